import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import type { Run } from './runEvents';

/** Where the probes stood when the way was last planned. */
interface Stand {
  step: number;
  turned: boolean;
  /** Planned again for a reason that the numbers do not show. */
  round: number;
}

/** What is still to do, in the order that the server plans from where the probes stand. It is planned again when one leaves the way, when
 *  a step is left out or must be measured again, and when a connector goes or comes back. */
export function useWay(job: Schemas['JobView'], run: Run) {
  const [search, setSearch] = useSearchParams();
  const away = useMemo(() => search.getAll('away'), [search]);
  const [stand, setStand] = useState<Stand>({
    step: run.progress.done > 0 ? run.position : 0,
    turned: false,
    round: 0,
  });
  const way = useQuery({
    queryKey: keys.way(job.id, run.id, stand, away),
    queryFn: () =>
      given(
        api.GET('/api/runs/{id}/way', {
          params: { path: { id: run.id }, query: { from: stand.step, turned: stand.turned, away } },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  const { data } = way;
  const turned = useMemo(() => new Set(data?.steps.filter((s) => s.turned).map((s) => s.step)), [data]);
  const planFrom = useCallback((step: number, isTurned: boolean) => {
    setStand((now) => ({ step, turned: isTurned, round: now.round + 1 }));
  }, []);
  const setAway = useCallback(
    (refs: readonly string[]) => {
      setSearch(
        (now) => {
          now.delete('away');
          for (const ref of refs) now.append('away', ref);
          return now;
        },
        { replace: true },
      );
    },
    [setSearch],
  );
  return { way: data, isTurned: (step: number) => turned.has(step), planFrom, away, setAway };
}
