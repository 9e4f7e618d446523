import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useCallback } from 'react';
import { useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys as queryKeys } from '../../api/keys';

export type Key = Schemas['KeyPosition'];

export const keys: Key[] = ['off', 'accessory', 'on', 'start', 'running'];

/** Key position and conditions as the address has them. */
export function useSituation() {
  const [search, setSearch] = useSearchParams();
  const key = keys.find((k) => k === search.get('key')) ?? 'on';
  const set = search.getAll('set');
  return {
    key,
    set,
    turn: useCallback(
      (to: Key) =>
        setSearch((now) => {
          now.set('key', to);
          return now;
        }),
      [setSearch],
    ),
    toggle: useCallback(
      (name: string) =>
        setSearch((now) => {
          const others = now.getAll('set').filter((n) => n !== name);
          const was = now.getAll('set').length > others.length;
          now.delete('set');
          for (const other of was ? others : [...others, name]) now.append('set', other);
          return now;
        }),
      [setSearch],
    ),
  };
}

export function useLoomState(revision: number, key: Key, set: readonly string[]) {
  return useQuery({
    queryKey: queryKeys.state(revision, key, ...set),
    queryFn: () =>
      given(
        api.GET('/api/revisions/{id}/state', { params: { path: { id: revision }, query: { key, set: [...set] } } }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

export function useExplanation(revision: number, key: Key, set: readonly string[], point: string | null) {
  return useQuery({
    queryKey: queryKeys.explanation(revision, key, point, ...set),
    queryFn: () =>
      given(
        api.GET('/api/revisions/{id}/explanation', {
          params: { path: { id: revision }, query: { key, set: [...set], point: point ?? '' } },
        }),
      ),
    enabled: point !== null,
    staleTime: Infinity,
  });
}
