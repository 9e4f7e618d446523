import type { Schemas } from '../../api/client';

export type Bench = Schemas['BenchView'];
export type Run = Schemas['RunView'];
export type Answer = Schemas['ReadingsAnswer'];
export type Changes = Schemas['ChangesSinceView'];
type Standing = Schemas['StandingView'];

/** A run with some of its steps standing elsewhere. */
function withStandings(run: Run, standings: readonly Standing[]): Run {
  if (standings.length === 0) return run;
  const of = new Map(standings.map((s) => [s.step, s]));
  return { ...run, steps: run.steps.map((s) => ({ ...s, standing: of.get(s.number) ?? s.standing })) };
}

/** The bench with the server's word on readings that it has stored. It has seen the events up to the answer's last only when
 *  none of them is somebody else's: what has not been shown has not been seen. */
export function afterAnswer(bench: Bench, id: number, answer: Answer): Bench {
  if (bench.run?.id !== id) return bench;
  const run = withStandings(
    bench.run,
    answer.stored.map((s) => s.standing),
  );
  const nobodyElse = run.lastEvent + answer.stored.length === answer.lastEvent;
  return {
    ...bench,
    run: { ...run, progress: answer.progress, lastEvent: nobodyElse ? answer.lastEvent : run.lastEvent },
  };
}

/** The bench with what has changed in its run; older news changes nothing. */
export function afterChanges(bench: Bench, changes: Changes): Bench {
  if (bench.run?.id !== changes.run || changes.lastEvent <= bench.run.lastEvent) return bench;
  const run = withStandings(bench.run, changes.steps);
  return {
    ...bench,
    run: { ...run, connectors: changes.connectors, progress: changes.progress, lastEvent: changes.lastEvent },
  };
}
