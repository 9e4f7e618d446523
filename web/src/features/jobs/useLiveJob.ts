import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { keys } from '../../api/keys';
import { followRun } from '../bench/followRun';

/** How long changes are collected before one looks, in ms. */
const patience = 400;

/** The same for what stands beside the run: stage, faults, packs. */
const patienceWithRest = 1500;

/** Looks again at what may have changed, whoever changed it. A run is followed event by event; one's own readings are known already. */
export function useLiveJob(job: number) {
  const client = useQueryClient();
  useEffect(() => {
    let due: ReturnType<typeof setTimeout> | undefined;
    let rest: ReturnType<typeof setTimeout> | undefined;
    let run: { id: number; last: number } | null | undefined;
    const lookAtRest = () => {
      rest = undefined;
      for (const of of [
        keys.job(job),
        keys.faults(job),
        keys.powerUp(job),
        keys.handover(job),
        keys.review(job),
        keys.revisions(job),
        keys.draftNote(job),
      ])
        void client.invalidateQueries({ queryKey: of });
    };
    const look = () => {
      due = undefined;
      if (run) void followRun(client, job, run.id, run.last);
      else void client.invalidateQueries({ queryKey: keys.bench(job) });
      // A run that gets many readings a second changes the job's head no oftener than anybody reads it.
      if (run) rest ??= setTimeout(lookAtRest, patienceWithRest);
      else lookAtRest();
      run = undefined;
    };
    const stream = new EventSource(`/api/jobs/${job}/events`);
    stream.addEventListener('changed', (message: MessageEvent<string>) => {
      const told = JSON.parse(message.data) as { run: number | null; lastEvent: number; people: boolean };
      if (told.people) {
        void client.invalidateQueries({ queryKey: keys.onRun(job, told.run ?? 0).slice(0, told.run === null ? 3 : 4) });
        if (told.run !== null && told.lastEvent === 0) return;
      }
      const same = run === undefined || (run !== null && run.id === told.run);
      run = told.run !== null && same ? { id: told.run, last: told.lastEvent } : null;
      due ??= setTimeout(look, patience);
    });
    return () => {
      clearTimeout(due);
      clearTimeout(rest);
      stream.close();
    };
  }, [client, job]);
}
