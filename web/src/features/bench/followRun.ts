import type { QueryClient } from '@tanstack/react-query';
import { api, given } from '../../api/client';
import { keepInstead } from '../../api/kept';
import { keys } from '../../api/keys';
import { afterAnswer, afterChanges, type Answer, type Bench } from './runEvents';

/** How long after a change what is known is kept for a time without a server, in ms. */
const beforeKept = 1500;
let keeping: ReturnType<typeof setTimeout> | undefined;

/** Keeps the bench as this page knows it, so that a page that comes up without a server knows as much. */
function keepSoon(client: QueryClient, job: number) {
  clearTimeout(keeping);
  keeping = setTimeout(() => {
    const known = client.getQueryData<Bench>(keys.bench(job));
    if (known) void keepInstead(`/api/jobs/${job}/bench`, known);
  }, beforeKept);
}

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
    keepSoon(client, job);
    if (changes.setAside !== null) await client.invalidateQueries({ queryKey: keys.bench(job) });
  }
}

/** Shows the server's word on readings it has stored; what others did meanwhile is fetched before it counts as seen. */
export async function settle(client: QueryClient, job: number, run: number, answer: Answer) {
  // A fetch that set out before this answer would bring back the time before it.
  await client.cancelQueries({ queryKey: keys.bench(job) });
  client.setQueryData<Bench>(keys.bench(job), (bench) => bench && afterAnswer(bench, run, answer));
  keepSoon(client, job);
  await followRun(client, job, run, answer.lastEvent);
}
