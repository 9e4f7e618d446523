import { expect, it } from 'vitest';
import { keys } from './api/keys';
import { uuidv7 } from './api/uuid';
import { jobPages, loomRow, shopPages } from './pages';

it('each page has one address and a title, and each row names pages that are there', () => {
  for (const pages of [shopPages, jobPages]) {
    expect(new Set(pages.map((p) => p.path)).size).toBe(pages.length);
    expect(pages.every((p) => p.title.length > 2)).toBe(true);
  }
  expect(jobPages.every((p) => !p.under || jobPages.some((o) => o.path === p.under && o.label))).toBe(true);
  expect(loomRow.map((r) => r.path)).toContain('loom');
  expect(loomRow.every((r) => jobPages.some((p) => p.path === r.path))).toBe(true);
});

it('what belongs to a job begins with it', () => {
  for (const key of [
    keys.job(3),
    keys.bench(3),
    keys.faults(3),
    keys.handover(3),
    keys.revisions(3),
    keys.draft(3),
    keys.plan(3, 'x'),
  ])
    expect(key.slice(0, 2)).toEqual(['job', 3]);
});

it('keys of readings are UUIDs of version 7 that sort by time', () => {
  const first = uuidv7();
  expect(first).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  const earlier = parseInt(first.replaceAll('-', '').slice(0, 12), 16);
  expect(Math.abs(Date.now() - earlier)).toBeLessThan(60_000);
  expect(new Set(Array.from({ length: 500 }, uuidv7)).size).toBe(500);
});
