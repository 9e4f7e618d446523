import fc from 'fast-check';
import { expect, it, vi } from 'vitest';
import { uuidv7 } from './uuid';

it('is a version 7 key that carries its time and sorts by it', () => {
  vi.useFakeTimers();
  fc.assert(
    fc.property(fc.nat(2 ** 45), fc.nat(2 ** 45), (a, b) => {
      const [one, two] = [a, b].map((at) => {
        vi.setSystemTime(at);
        return uuidv7();
      });
      expect(one).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
      expect(parseInt((one ?? '').replaceAll('-', '').slice(0, 12), 16)).toBe(a);
      if (a !== b) expect((one ?? '') < (two ?? '')).toBe(a < b);
    }),
  );
  vi.useRealTimers();
});

it('never comes twice', () => {
  const many = Array.from({ length: 5000 }, uuidv7);
  expect(new Set(many).size).toBe(many.length);
});
