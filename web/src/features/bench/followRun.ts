import type { QueryClient } from '@tanstack/react-query';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { afterAnswer, afterChanges, type Answer, type Bench } from './runEvents';

/** Brings the bench that is shown up to an event of its run, unless it is there already. */
export async function followRun(client: QueryClient, job: number, run: number, last: number) {
  const shown = client.getQueryData<Bench>(keys.bench(job))?.run;
  if (shown?.id !== run) {
    await client.invalidateQueries({ queryKey: keys.bench(job) });
  } else if (shown.lastEvent < last) {
    const changes = await given(
      api.GET('/api/runs/{id}/since/{number}', { params: { path: { id: run, number: shown.lastEvent } } }),
    );
    client.setQueryData<Bench>(keys.bench(job), (bench) => bench && afterChanges(bench, changes));
    if (changes.setAside !== null) await client.invalidateQueries({ queryKey: keys.bench(job) });
  }
}

/** Shows the server's word on readings it has stored; what others did meanwhile is fetched before it counts as seen. */
export async function settle(client: QueryClient, job: number, run: number, answer: Answer) {
  // A fetch that set out before this answer would bring back the time before it.
  await client.cancelQueries({ queryKey: keys.bench(job) });
  client.setQueryData<Bench>(keys.bench(job), (bench) => bench && afterAnswer(bench, run, answer));
  await followRun(client, job, run, answer.lastEvent);
}
