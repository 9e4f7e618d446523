import { expect, it } from 'vitest';
import type { Schemas } from '../../api/client';
import { afterAnswer, afterChanges, type Answer, type Changes } from './runEvents';
import { sampleBench, sampleProgress, sampleRun, sampleStanding } from './sample';

const stored = (step: number, state: Schemas['StepState']): Answer['stored'][number] => ({
  key: `k${step}`,
  bearing: 'stands',
  standing: sampleStanding(step, state),
  reading: { key: `k${step}`, value: 1, text: '', verdict: 'pass', by: 'Mira', at: '', moved: null },
});

const changes = (lastEvent: number, steps: Changes['steps'] = []): Changes => ({
  run: 7,
  steps,
  connectors: [{ ref: 'A', state: 'pass' }],
  progress: sampleProgress,
  lastEvent,
  setAside: null,
});

it('one’s own readings are seen when nobody else did anything in between', () => {
  const bench = sampleBench(sampleRun(['not-tested', 'not-tested'], 4));
  const after = afterAnswer(bench, 7, {
    stored: [stored(1, 'pass')],
    refused: [],
    progress: { ...sampleProgress, done: 1 },
    lastEvent: 5,
  });
  expect(after.run?.lastEvent).toBe(5);
  expect(after.run?.steps.map((s) => s.standing.state)).toEqual(['pass', 'not-tested']);
  expect(after.run?.progress.done).toBe(1);
});

it('what somebody else did meanwhile has not been seen before it is shown', () => {
  const bench = sampleBench(sampleRun(['not-tested', 'pass'], 4));
  const after = afterAnswer(bench, 7, {
    stored: [stored(1, 'pass')],
    refused: [],
    progress: sampleProgress,
    lastEvent: 6,
  });
  expect(after.run?.lastEvent).toBe(4);
  const shown = afterChanges(after, changes(6, [sampleStanding(2, 'retest')]));
  expect(shown.run?.lastEvent).toBe(6);
  expect(shown.run?.steps.map((s) => s.standing.state)).toEqual(['pass', 'retest']);
});

it('older news and news of another run change nothing', () => {
  const bench = sampleBench(sampleRun(['pass'], 9));
  expect(afterChanges(bench, changes(9, [sampleStanding(1, 'fail')]))).toBe(bench);
  expect(afterChanges(bench, { ...changes(12), run: 8 })).toBe(bench);
  expect(afterAnswer(bench, 8, { stored: [], refused: [], progress: sampleProgress, lastEvent: 20 })).toBe(bench);
  expect(afterChanges(sampleBench(null), changes(3))).toEqual(sampleBench(null));
});
