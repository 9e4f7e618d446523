import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { after, turnedRound, verdictOf, withWaiting } from './onTheWay';
import { sampleReading, sampleRun, sampleStep } from './sample';
import { toneSequence } from './sound';

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

  it('is the next on the way, wherever in the plan it stands, and nothing that waits for a connector', () => {
    const run = sampleRun(['pass', 'not-tested', 'not-tested', 'not-tested']);
    const on = (...steps: number[]) => steps.map((step) => ({ step, turned: false }));
    expect(after(run, 1, { steps: on(1, 4, 2), waiting: [3], theirs: [] })).toBe(4);
    expect(after(run, 4, { steps: on(1, 4, 2), waiting: [3], theirs: [] })).toBe(2);
    expect(
      after(sampleRun(['pass', 'pass', 'not-tested']), 2, { steps: on(1, 2), waiting: [3], theirs: [] }),
    ).toBeNull();
  });

  it('a card turned round has its probes exchanged; the plug stays on red', () => {
    const step = { ...sampleStep(1), black: 'A:1', red: 'B:2' };
    expect(turnedRound(step)).toMatchObject({ black: 'B:2', red: 'A:1' });
    expect(turnedRound({ ...step, red: null })).toMatchObject({ black: 'A:1', red: null });
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
});
