import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { uuidv7 } from '../../api/uuid';
import { useSession } from '../session/useSession';
import { readingText, sentAs } from '../../ui/readings';
import { followRun } from './followRun';
import { useOutbox } from './Outbox';
import { after, turnedRound, verdictOf, withWaiting } from './onTheWay';
import type { Run } from './runEvents';
import { usePeople } from './usePeople';
import { useWay } from './useWay';

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
  const { way, isTurned, planFrom, away, setAway } = useWay(job, run);
  const shown = (of: number | null) => {
    const found = of === null ? undefined : run.steps[of - 1];
    return found && isTurned(found.number) ? turnedRound(found) : found;
  };
  const step = shown(wanted) ?? run.steps[0];
  const number = step?.number ?? 1;
  const following = after(run, number, way);

  // At the meter's speed the address and the bookmark would only hold the next card up: they follow when it ends.
  const [inHurry, hurry] = useState(false);
  const stepTo = useCallback((to: number) => {
    setWanted(to);
  }, []);

  const isAddressed = search.get('step') === String(number);
  useEffect(() => {
    if (inHurry || isAddressed) return;
    setSearch(
      (now) => {
        now.set('step', String(number));
        return now;
      },
      { replace: true },
    );
  }, [inHurry, isAddressed, number, setSearch]);

  const people = usePeople(job.id, run.id, inHurry ? null : { step: number });

  /** Takes a reading: its verdict stands at once; it is kept when the promise resolves, and only then is said to be. */
  const take = useCallback(
    (value: number | null, fromMeter: boolean, seen: number, moved?: Schemas['Moved']) => {
      if (!step) return null;
      const key = uuidv7();
      const verdict = verdictOf(step, value);
      setJudged({ step: step.number, verdict, text: readingText(value, step.unit) });
      const kept = outbox.take({
        key,
        jobId: job.id,
        runId: run.id,
        reading: {
          key,
          step: step.number,
          ...sentAs(value, step.unit),
          fromMeter,
          takenAt: new Date().toISOString(),
          seen,
          ...(moved ? { moved } : {}),
        },
      });
      return { verdict, kept };
    },
    [job.id, run.id, outbox, step],
  );

  const measure = useMutation({
    // What the page knows when the probes touch, not when the answer comes: a fix in between is not what was measured.
    mutationFn: async () => ({
      seen: run.lastEvent,
      shown: await given(
        api.POST('/api/runs/{id}/measure', { params: { path: { id: run.id } }, body: { step: number } }),
      ),
    }),
    onSuccess: ({ seen, shown }) => take(shown.overRange ? null : shown.ohms, true, seen)?.kept,
  });

  const client = useQueryClient();
  /** Has the fixture prove steps against all others together, before it takes the rest one by one. */
  const byGroups = useCallback(async () => {
    const { lastEvent } = await given(
      api.POST('/api/runs/{id}/groups', { params: { path: { id: run.id } }, body: { key: uuidv7() } }),
    );
    await followRun(client, job.id, run.id, lastEvent);
  }, [client, job.id, run.id]);

  const goOn = useCallback(() => {
    if (following !== null) stepTo(following);
  }, [stepTo, following]);

  // Whoever leaves the way has put the probes elsewhere: it is planned again from there.
  const goTo = useCallback(
    (to: number) => {
      stepTo(to);
      planFrom(to, false);
    },
    [stepTo, planFrom],
  );
  const replan = useCallback(() => planFrom(number, isTurned(number)), [planFrom, number, isTurned]);
  const retests = run.progress.retests;
  const [known, setKnown] = useState(retests);
  if (known !== retests) {
    setKnown(retests);
    if (retests > known) replan();
  }

  return {
    run,
    step,
    judged,
    measure,
    take,
    next: shown(following) ?? null,
    waiting: way?.waiting.length ?? 0,
    theirs: way?.theirs.length ?? 0,
    people,
    away,
    setAway,
    replan,
    byGroups,
    hurry,
    goTo,
    goOn,
    nextRetest: () => {
      const retest = run.steps.find((s) => s.standing.state === 'retest' && s.number !== number);
      if (retest) goTo(retest.number);
    },
    unsaved: outbox.waiting.filter((w) => w.runId === run.id),
  };
}
