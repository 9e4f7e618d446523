import { expect, it } from 'vitest';
import fc from 'fast-check';
import { after, figure, standingAt, type Check, type Stage } from './words';

const check = (id: string, state: Check['state'] = 'open') => ({ id, state }) as Check;
const stage = (number: number, ...checks: Check[]) => ({ number, checks }) as Stage;

it('stands at the check that is asked for, whatever its state', () => {
  const stages = [stage(1, check('a', 'passed'), check('b')), stage(2, check('c'))];
  expect(standingAt(stages, 1, 'c')?.id).toBe('c');
  expect(standingAt(stages, 1, 'gone')?.id).toBe('b');
  expect(standingAt(stages, null, null)?.id).toBe('b');
  expect(standingAt([], 1, null)).toBeUndefined();
});

it('goes on over the end of a stage, and not past the last', () => {
  const stages = [stage(1, check('a')), stage(3, check('b'))];
  expect(after(stages, check('a'))?.id).toBe('b');
  expect(after(stages, check('b'))).toBeUndefined();
});

it.each([
  ['12.6', 'V', 12.6],
  ['12,6', 'V', 12.6],
  [' 6.3m', 'A', 0.0063],
  ['2k', 'Ω', 2000],
  ['OL', 'Ω', null],
  ['OL', 'V', undefined],
  ['', 'V', undefined],
  ['12.6 V', 'V', undefined],
])('reads %s as a figure in %s', (text, unit, is) => {
  const read = figure(text, unit);
  if (typeof is === 'number') expect(read).toBeCloseTo(is, 9);
  else expect(read).toBe(is);
});

it('reads every number back as it was written', () => {
  fc.assert(
    fc.property(fc.double({ min: -1000, max: 1000, noNaN: true }), (value) => {
      const text = value.toFixed(4);
      expect(figure(text, 'V')).toBeCloseTo(Number(text), 9);
    }),
  );
});
