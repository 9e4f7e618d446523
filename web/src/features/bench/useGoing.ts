import { useEffect, useRef, useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { uuidv7 } from '../../api/uuid';

/** How readings are taken without a key: by the fixture at the meter's speed, or when the meter holds still. */
export interface Going {
  way: 'by-itself' | 'hands-free';
  stopAtFail: boolean;
}

interface Bench {
  run: Schemas['RunView'];
  step: Schemas['StepView'] | undefined;
  /** Where the way leads from here; null when nothing is left. */
  next: Schemas['StepView'] | null;
  /** Takes a reading; gives its verdict at once, and when it is kept. */
  take: (
    value: number | null,
    fromMeter: boolean,
    seen: number,
  ) => { verdict: Schemas['Verdict']; kept: Promise<void> } | null;
  goOn: () => void;
  /** Has the fixture prove steps against all others together. */
  byGroups: () => Promise<void>;
  /** Plans the way again from where the probes stand. */
  replan: () => void;
}

/** Takes the steps on the way one after another until it is told to stop, a step fails, the meter gives no reading, or nothing is left. */
export function useGoing(bench: Bench) {
  const [going, setGoing] = useState<Going | null>(null);
  const [ended, setEnded] = useState<{ words: string; error: unknown } | null>(null);
  const latest = useRef(bench);
  useEffect(() => {
    latest.current = bench;
  });
  const grouped = useRef(false);
  /** What was read last; a hand has to leave it before the next is taken. */
  const left = useRef<{ ohms: number | null } | null>(null);
  /** What the bench was set up for when this began. */
  const phase = useRef<Schemas['StepPhase'] | null>(null);
  const keeping = useRef<Promise<void>>(undefined);
  const number = bench.step?.number;

  useEffect(() => {
    if (!going) return;
    const stop = new AbortController();
    const isStopped = () => stop.signal.aborted;
    const end = (words: string, error: unknown = null) => {
      if (isStopped()) return;
      setGoing(null);
      setEnded({ words, error });
    };
    const onward = () => {
      if (latest.current.next) latest.current.goOn();
      else end('Nothing is left to measure.');
    };
    const takeOne = async () => {
      const { run, step } = latest.current;
      if (!step) return;
      if (!isDue(step)) {
        onward();
        return;
      }
      phase.current ??= step.phase;
      if (step.phase !== phase.current) {
        end(
          step.subject === null
            ? `From here the bench is set up otherwise: ${step.setup ?? ''}. Go on when it is.`
            : 'The meter is through. What is left is for hands and eyes.',
        );
        return;
      }
      if (!step.remote) {
        end('This step is read by eye: type what the meter shows, then go on.');
        return;
      }
      if (run.progress.care !== null && run.meter.matrix && !(await isRight(run.id, stop.signal))) {
        end('The meter is not right.');
        return;
      }
      if (going.way === 'by-itself' && run.isolation === 'thorough' && !grouped.current) {
        // Once for each time it is let go; the way on is then planned without what the groups proved.
        grouped.current = true;
        await latest.current.byGroups();
        if (isStopped()) return;
        latest.current.replan();
        setGoing({ ...going });
        return;
      }
      const seen = latest.current.run.lastEvent;
      // A meter shows over range for two places that stand apart and for a probe in the air: without a switch matrix a hand says which.
      if (going.way === 'hands-free' && !run.meter.matrix && !step.joined) return;
      const shown = await readingOf(going.way, run.id, step.number, left.current, stop.signal);
      if (isStopped() || !shown) return;
      // One reading is on its way into this browser's store while the next is taken, and no more.
      await keeping.current;
      const taken = latest.current.take(shown.overRange ? null : shown.ohms, true, seen);
      keeping.current = taken?.kept;
      left.current = { ohms: shown.overRange ? null : shown.ohms };
      if (taken?.verdict === 'fail' && going.stopAtFail) end(`Step ${step.number} fails.`);
      else onward();
    };
    takeOne().catch((error: unknown) => end('The meter gave no reading.', error));
    return () => stop.abort();
  }, [going, number]);

  return {
    going,
    ended,
    start: (way: Going) => {
      setEnded(null);
      grouped.current = false;
      left.current = null;
      phase.current = null;
      setGoing(way);
    },
    stop: () => setGoing(null),
  };
}

const isDue = (step: Schemas['StepView']) => step.standing.state === 'not-tested' || step.standing.state === 'retest';

/** The checks that are due, made by the instrument; one that fails is made once more, as a bad touch is no drift. */
async function isRight(run: number, signal: AbortSignal) {
  const params = { path: { id: run } };
  const care = await given(api.GET('/api/runs/{id}/care', { params, signal }));
  for (const { check } of care.checks.filter((c) => c.due)) {
    const make = () =>
      given(
        api.POST('/api/runs/{id}/care', {
          params,
          body: { key: uuidv7(), check, overRange: false, byInstrument: true },
          signal,
        }),
      );
    if (!(await make()).passed && !(await make()).passed) return false;
  }
  return true;
}

/** A reading by the run's meter: at once, or when it holds still; null when it is not wanted any more. */
async function readingOf(
  way: Going['way'],
  run: number,
  step: number,
  left: { ohms: number | null } | null,
  signal: AbortSignal,
) {
  const params = { path: { id: run } };
  if (way === 'by-itself') return given(api.POST('/api/runs/{id}/measure', { params, body: { step }, signal }));
  while (!signal.aborted) {
    const shown = await given(api.POST('/api/runs/{id}/steady', { params, body: { step, left }, signal }));
    if (shown.steady) return shown;
  }
  return null;
}
