import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';

const rest = 250;

/** A value that has rested for a moment: drawings follow when nobody types, so that they never hold up a key. */
function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const due = setTimeout(() => setRested(value), rest);
    return () => clearTimeout(due);
  }, [value]);
  return rested;
}

/** The draft's stem as the server drew it last. */
export function useDraftStem(id: number, version: number) {
  const drawn = useRested(version);
  return useQuery({
    queryKey: keys.draftStem(id, drawn),
    queryFn: () => given(api.GET('/api/drafts/{id}/stem', { params: { path: { id } } })),
    placeholderData: keepPreviousData,
    gcTime: 1000,
  }).data;
}

/** Some of the draft's plugs with their faces. */
export function useDraftPlugs(id: number, version: number, refs: readonly string[]) {
  const of = useRested(refs.join(','));
  const drawn = useRested(version);
  return useQuery({
    queryKey: keys.draftPlugs(id, drawn, of),
    queryFn: () => given(api.GET('/api/drafts/{id}/plugs', { params: { path: { id }, query: { of } } })),
    placeholderData: keepPreviousData,
    enabled: of !== '',
    gcTime: 1000,
  }).data;
}
