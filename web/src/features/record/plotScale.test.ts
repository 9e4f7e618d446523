import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ohms, stretch, ticks } from './plotScale';

describe('the scale of a plot', () => {
  it('has round values inside its ends, not too many', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1e4, noNaN: true }),
        fc.double({ min: 1e-4, max: 1e4, noNaN: true }),
        (from, span) => {
          const marks = ticks(from, from + span);
          expect(marks.length).toBeLessThanOrEqual(8);
          expect(marks.length).toBeGreaterThanOrEqual(1);
          for (const mark of marks) {
            expect(mark).toBeGreaterThanOrEqual(from - span * 1e-6);
            expect(mark).toBeLessThanOrEqual(from + span * (1 + 1e-6));
          }
        },
      ),
    ));

  it('holds the limits and what lies near them; a broken wire does not press the rest flat', () => {
    const limits = [{ least: 0.05, most: 0.1 }];
    expect(stretch([0.07, 0.3], limits)[1]).toBeCloseTo(0.345);
    expect(stretch([0.07, 2e6], limits)[1]).toBeCloseTo(0.115);
    expect(stretch([], [])).toEqual([0, 1]);
  });

  it('says milliohms below one ohm', () => {
    expect([ohms(0), ohms(0.05), ohms(1), ohms(2.5)]).toEqual(['0', '50 mΩ', '1 Ω', '2.5 Ω']);
  });
});
