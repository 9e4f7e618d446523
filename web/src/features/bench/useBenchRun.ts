import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { uuidv7 } from '../../api/uuid';
import { useSession } from '../session/useSession';
import { ohmsText } from '../../ui/ohms';
import { useOutbox } from './Outbox';

type Run = Schemas['RunView'];
type Step = Schemas['StepView'];

/** The verdict that the plan's bands give a value; null is over range. */
export function verdictOf(step: Step, ohms: number | null): Schemas['Verdict'] {
  const band = ohms === null ? step.bands.at(-1) : step.bands.find((b) => b.toOhms === null || ohms < b.toOhms);
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

/** Where one stands in a run, and taking readings there. */
export function useBenchRun(job: Schemas['JobView'], run: Run) {
  const client = useQueryClient();
  const outbox = useOutbox();
  const { data: session } = useSession();
  const [search, setSearch] = useSearchParams();
  const [judged, setJudged] = useState<{ step: number; verdict: Schemas['Verdict']; text: string } | null>(null);
  const wanted = Number(search.get('step') ?? run.position);
  const step = run.steps[wanted - 1] ?? run.steps[0];
  const number = step?.number ?? 1;

  const goTo = useCallback(
    (to: number) => {
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
    async (ohms: number | null, fromMeter: boolean) => {
      if (!step) return;
      const key = uuidv7();
      const verdict = verdictOf(step, ohms);
      const at = new Date().toISOString();
      const reading: Schemas['ReadingView'] = {
        key,
        ohms,
        text: ohmsText(ohms),
        verdict,
        by: session?.person?.name ?? '',
        at,
      };
      setJudged({ step: step.number, verdict, text: reading.text });
      client.setQueryData<Schemas['BenchView']>(['bench', job.id], (bench) =>
        bench?.run ? { ...bench, run: withReading(bench.run, step.number, reading) } : bench,
      );
      await outbox.take({
        key,
        jobId: job.id,
        runId: run.id,
        reading: { key, step: step.number, ohms, overRange: ohms === null, fromMeter, takenAt: at },
      });
    },
    [client, job.id, run.id, outbox, session, step],
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

function withReading(run: Run, step: number, last: Schemas['ReadingView']): Run {
  return {
    ...run,
    steps: run.steps.map((s) => (s.number === step ? { ...s, state: last.verdict, last, skipped: null } : s)),
  };
}
