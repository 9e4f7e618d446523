import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { moments, ohms, stretch, ticks } from './plotScale';

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

  it('says each moment once, from the first to the last, with seconds where all is within minutes', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 2e12 }), fc.integer({ min: 0, max: 1e10 }), (first, span) => {
        const marks = moments(first, first + span);
        expect(new Set(marks.map((m) => m.words)).size).toBe(marks.length);
        expect(marks[0]?.at).toBe(first);
        expect(marks.length).toBeLessThanOrEqual(3);
        for (const mark of marks) expect(mark.at).toBeLessThanOrEqual(first + span);
        if (marks.length === 1) expect(marks[0]?.anchor).toBe('middle');
      }),
    );
    expect(moments(1e12, 1e12)).toHaveLength(1);
    expect(moments(1e12, 1e12 + 40_000)).toHaveLength(3);
    expect(moments(1e12, 1e12 + 100_000_000).length).toBeGreaterThan(1);
  });
});
