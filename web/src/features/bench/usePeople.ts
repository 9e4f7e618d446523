import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { inTurn } from './inTurn';

/** How often a page says that its person is still there, in ms; the server takes somebody for gone after a minute. */
const stillHere = 20_000;

const places = inTurn();
addEventListener('pagehide', () => places.leave());

/** Who else is on a run, and saying where one stands oneself: at a step of the bench or a check of the power-up; nowhere says nothing. */
export function usePeople(job: number, run: number | null, at: { step: number } | { check: string } | null) {
  const client = useQueryClient();
  const people = useQuery({
    queryKey: keys.onRun(job, run ?? 0),
    queryFn: () => given(api.GET('/api/runs/{id}/people', { params: { path: { id: run ?? 0 } } })),
    enabled: run !== null,
    // Somebody who leaves says nothing: it shows by time alone.
    refetchInterval: stillHere,
  });
  const step = at && 'step' in at ? at.step : null;
  const check = at && 'check' in at ? at.check : null;
  useEffect(() => {
    if (run === null || (step === null && check === null)) return;
    // A failure is no loss: it is said again. Whoever leaves the page at once comes back to where they stood all the same.
    const say = () =>
      places.say(() =>
        api.PUT('/api/runs/{id}/position', {
          params: { path: { id: run } },
          body: { step, check },
          keepalive: true,
          // What never comes back holds up nothing for longer than that.
          signal: AbortSignal.timeout(stillHere),
        }),
      );
    say();
    const timer = setInterval(say, stillHere);
    return () => clearInterval(timer);
  }, [run, step, check]);

  const taken = useMemo(
    () => JSON.stringify(people.data?.map((p) => [p.person, p.takes]).sort() ?? null),
    [people.data],
  );
  useEffect(() => {
    // Who does which connectors changes everybody's way.
    if (taken !== 'null') void client.invalidateQueries({ queryKey: keys.way(job) });
  }, [client, job, taken]);
  return people.data ?? [];
}
