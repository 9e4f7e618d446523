import { useMutation } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { uuidv7 } from '../../api/uuid';
import { useSession } from '../session/useSession';
import { readingText } from '../../ui/readings';
import { useOutbox } from './Outbox';
import type { Waiting } from './outboxStore';

type Run = Schemas['RunView'];
type Step = Schemas['StepView'];

/** The verdict that the plan's bands give a value in the step's unit; null is over range. */
export function verdictOf(step: Step, value: number | null): Schemas['Verdict'] {
  const band = value === null ? step.bands.at(-1) : step.bands.find((b) => b.to === null || value < b.to);
  return band?.verdict ?? 'cant-tell';
}

const waits = (s: Step) => s.state === 'not-tested' || s.state === 'retest';

/** The step to go on to: a retest first, then the next without a reading, round to the start. */
function after(run: Run, step: number): number | null {
  const todo = run.steps.filter(waits).filter((s) => s.number !== step);
  const retest = todo.filter((s) => s.state === 'retest');
  const pool = retest.length > 0 ? retest : todo;
  return (pool.find((s) => s.number > step) ?? pool[0])?.number ?? null;
}

/** The run with the readings that are still on their way laid over it. */
function withWaiting(run: Run, waiting: readonly Waiting[], by: string): Run {
  const latest = new Map(waiting.filter((w) => w.runId === run.id).map((w) => [w.reading.step, w.reading]));
  if (latest.size === 0) return run;
  return {
    ...run,
    steps: run.steps.map((s) => {
      const reading = latest.get(s.number);
      if (!reading) return s;
      const value = s.unit === 'volt' ? (reading.volts ?? null) : reading.ohms;
      const verdict = verdictOf(s, value);
      const last = {
        key: reading.key,
        value,
        text: readingText(value, s.unit),
        verdict,
        by,
        at: reading.takenAt,
      };
      return { ...s, state: verdict, last, skipped: null };
    }),
  };
}

/** Where one stands in a run, and taking readings there. */
export function useBenchRun(job: Schemas['JobView'], stored: Run) {
  const outbox = useOutbox();
  const { data: session } = useSession();
  const me = session?.person?.name ?? '';
  const run = useMemo(() => withWaiting(stored, outbox.waiting, me), [stored, outbox.waiting, me]);
  const [search, setSearch] = useSearchParams();
  const [judged, setJudged] = useState<{ step: number; verdict: Schemas['Verdict']; text: string } | null>(null);
  // The card turns at once; the address follows when there is time.
  const [wanted, setWanted] = useState(() => Number(search.get('step') ?? run.position));
  const step = run.steps[wanted - 1] ?? run.steps[0];
  const number = step?.number ?? 1;

  const goTo = useCallback(
    (to: number) => {
      setWanted(to);
      setSearch(
        (now) => {
          now.set('step', String(to));
          return now;
        },
        { replace: true },
      );
    },
    [setSearch],
  );

  useEffect(() => {
    // Only a bookmark for coming back: a failure is no loss.
    api
      .PUT('/api/runs/{id}/position', { params: { path: { id: run.id } }, body: { step: number } })
      .catch(() => undefined);
  }, [run.id, number]);

  const take = useCallback(
    async (value: number | null, fromMeter: boolean) => {
      if (!step) return;
      const key = uuidv7();
      const verdict = verdictOf(step, value);
      setJudged({ step: step.number, verdict, text: readingText(value, step.unit) });
      await outbox.take({
        key,
        jobId: job.id,
        runId: run.id,
        reading: {
          key,
          step: step.number,
          ohms: step.unit === 'ohm' ? value : null,
          volts: step.unit === 'volt' ? value : null,
          overRange: value === null,
          fromMeter,
          takenAt: new Date().toISOString(),
        },
      });
    },
    [job.id, run.id, outbox, step],
  );

  const measure = useMutation({
    mutationFn: () =>
      given(api.POST('/api/runs/{id}/measure', { params: { path: { id: run.id } }, body: { step: number } })),
    onSuccess: (m) => take(m.overRange ? null : m.ohms, true),
  });

  const goOn = useCallback(() => {
    const next = after(run, number);
    if (next !== null) goTo(next);
  }, [goTo, number, run]);

  return {
    run,
    step,
    judged,
    measure,
    take,
    goTo,
    goOn,
    nextRetest: () => {
      const retest = run.steps.find((s) => s.state === 'retest' && s.number !== number);
      if (retest) goTo(retest.number);
    },
    unsaved: outbox.waiting.filter((w) => w.runId === run.id),
  };
}
