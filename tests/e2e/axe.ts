import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** Axe finds nothing on the page, or in some parts of it. */
export async function clean(page: Page, where: string, only: string[] = []) {
  const axe = only.reduce((a, part) => a.include(part), new AxeBuilder({ page }));
  const found = await axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice']).analyze();
  const lines = found.violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 160)} ${n.any[0]?.message ?? ''}`));
  expect(lines, where).toEqual([]);
}
