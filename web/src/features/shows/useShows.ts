import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';

export type Key = Schemas['KeyPosition'];

export const keys: Key[] = ['off', 'accessory', 'on', 'start', 'running'];

interface Situation {
  key: Key;
  set: readonly string[];
}

/** Key position and conditions as the address has them; a tick or a turn is drawn at once and the address follows. */
export function useSituation() {
  const [search, setSearch] = useSearchParams();
  const address = search.toString();
  const [ahead, setAhead] = useState<(Situation & { of: string }) | null>(null);
  if (ahead && ahead.of !== address) setAhead(null);
  const situation: Situation =
    ahead?.of === address
      ? ahead
      : { key: keys.find((k) => k === search.get('key')) ?? 'on', set: search.getAll('set') };

  const go = (to: Situation) => {
    setAhead({ ...to, of: address });
    setSearch((now) => {
      now.set('key', to.key);
      now.delete('set');
      for (const name of to.set) now.append('set', name);
      return now;
    });
  };
  const { key, set } = situation;
  return {
    key,
    set,
    turn: (to: Key) => go({ key: to, set }),
    toggle: (name: string) => go({ key, set: set.includes(name) ? set.filter((n) => n !== name) : [...set, name] }),
  };
}

export function useLoomState(revision: number, key: Key, set: readonly string[]) {
  return useQuery({
    queryKey: ['state', revision, key, ...set],
    queryFn: () =>
      given(
        api.GET('/api/revisions/{id}/state', { params: { path: { id: revision }, query: { key, set: [...set] } } }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

export function useStory(revision: number, key: Key, set: readonly string[], point: string | null) {
  return useQuery({
    queryKey: ['story', revision, key, point, ...set],
    queryFn: () =>
      given(
        api.GET('/api/revisions/{id}/story', {
          params: { path: { id: revision }, query: { key, set: [...set], point: point ?? '' } },
        }),
      ),
    enabled: point !== null,
    staleTime: Infinity,
  });
}
