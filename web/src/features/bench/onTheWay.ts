import type { Schemas } from '../../api/client';
import { readingText, sentValue } from '../../ui/readings';
import type { Waiting } from './outboxStore';
import type { Run } from './runEvents';

type Step = Schemas['StepView'];

/** The verdict that the plan's bands give a value in the step's unit; null is over range. */
export function verdictOf(step: Step, value: number | null): Schemas['Verdict'] {
  const band = value === null ? step.bands.at(-1) : step.bands.find((b) => b.to === null || value < b.to);
  return band?.verdict ?? 'cant-tell';
}

const waits = (s: Step) => s.standing.state === 'not-tested' || s.standing.state === 'retest';

/** The step to go on to: the next on the way that is still to do; while no way is known, a retest, then the next without a reading. */
export function after(run: Run, step: number, way?: Schemas['WayView']): number | null {
  const due = run.steps.filter(waits).filter((s) => s.number !== step);
  const left = new Set(due.map((s) => s.number));
  const planned = way?.steps.find((s) => left.has(s.step));
  if (planned) return planned.step;
  const waiting = new Set(way?.waiting);
  const open = due.filter((s) => !waiting.has(s.number));
  const retest = open.filter((s) => s.standing.state === 'retest');
  const pool = retest.length > 0 ? retest : open;
  return (pool.find((s) => s.number > step) ?? pool[0])?.number ?? null;
}

/** A step with its probes exchanged, as the way has it. */
export function turnedRound(step: Step): Step {
  return step.red === null ? step : { ...step, black: step.red, red: step.black };
}

/** The run with the readings that are still on their way laid over it. */
export function withWaiting(run: Run, waiting: readonly Waiting[], by: string): Run {
  const latest = new Map(waiting.filter((w) => w.runId === run.id).map((w) => [w.reading.step, w.reading]));
  if (latest.size === 0) return run;
  return {
    ...run,
    steps: run.steps.map((s) => {
      const reading = latest.get(s.number);
      if (!reading) return s;
      const { value } = sentValue(reading);
      const verdict = verdictOf(s, value);
      const last = {
        key: reading.key,
        value,
        text: readingText(value, s.unit),
        verdict,
        by,
        at: reading.takenAt,
        moved: null,
      };
      return { ...s, standing: { ...s.standing, state: verdict, last, late: null, skipped: null, carried: null } };
    }),
  };
}
