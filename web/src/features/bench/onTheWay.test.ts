import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { after, verdictOf, withWaiting } from './onTheWay';
import { sampleReading, sampleRun, sampleStep } from './sample';
import { spoken, toneSequence } from './sound';

it('a verdict is looked up in the bands that the server gave, over range in the last', () => {
  const step = sampleStep(1);
  expect([0, 0.04, 0.049999, 0.05, 0.06, 1e9].map((v) => verdictOf(step, v))).toEqual([
    'fail',
    'pass',
    'pass',
    'cant-tell',
    'fail',
    'fail',
  ]);
  expect(verdictOf(step, null)).toBe('fail');
});

describe('the step to go on to', () => {
  it('is a retest before anything else, the next one after where one stands', () => {
    const run = sampleRun(['not-tested', 'retest', 'pass', 'retest']);
    expect([1, 2, 4].map((n) => after(run, n))).toEqual([2, 4, 2]);
  });

  it('is never one that is done, and none when all are', () => {
    const states = fc.array(fc.constantFrom('pass', 'fail', 'cant-tell', 'skipped', 'not-tested', 'retest'), {
      minLength: 1,
      maxLength: 12,
    });
    fc.assert(
      fc.property(states, fc.nat(11), (all, at) => {
        const run = sampleRun(all);
        const next = after(run, at + 1);
        const left = run.steps.filter(
          (s) => ['not-tested', 'retest'].includes(s.standing.state) && s.number !== at + 1,
        );
        return next === null ? left.length === 0 : left.some((s) => s.number === next);
      }),
    );
  });
});

it('a reading on its way is shown at its step and hides nothing elsewhere', () => {
  const run = sampleRun(['not-tested', 'fail', 'retest']);
  const shown = withWaiting(run, [sampleReading('a', 3), sampleReading('b', 1, 99)], 'Mira Solstad');
  expect(shown.steps.map((s) => s.standing.state)).toEqual(['not-tested', 'fail', 'pass']);
  expect(shown.steps[2]?.standing.last).toMatchObject({ text: '45.0 mΩ', by: 'Mira Solstad' });
  expect(withWaiting(run, [], 'Mira Solstad')).toBe(run);
});

describe('what is heard', () => {
  it('tones follow each other without running together, and no two verdicts sound alike', () => {
    const all = (['pass', 'fail', 'cant-tell'] as const).map((v) => toneSequence(v, 2));
    for (const tones of all) {
      expect(tones[0]?.from).toBe(2);
      tones.forEach((t, i) => expect(t.from).toBeGreaterThan(tones[i - 1]?.to ?? 0));
    }
    expect(new Set(all.map((tones) => tones.map((t) => t.hertz).join())).size).toBe(3);
  });

  it('places are said as a person says them', () => {
    expect(spoken({ black: 'ECU-A:12', red: 'INJ3:1' })).toBe('Black on ECU-A, cavity 12. Red on INJ3, cavity 1.');
    expect(spoken({ black: 'ECU-A:12', red: null })).toBe('Black on ECU-A, cavity 12. Red on the shorting plug.');
  });
});
