import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';

export type Sighting = Schemas['Sighting'];

/** A sighting as it is kept: with its key, so that it can be sent again. */
interface Taken {
  key: string;
  what: Sighting;
  takenAt: string;
}

/** Keeps what was seen; what could not be sent is held, under the same key, until it is sent or let go. */
export function useSighting(job: number, run: number, seen: number) {
  const client = useQueryClient();
  const keep = useMutation({
    mutationFn: (taken: Taken) =>
      given(api.POST('/api/runs/{id}/sightings', { params: { path: { id: run } }, body: { ...taken, seen } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.faults(job) }),
  });
  return {
    keep: (what: Sighting) => keep.mutate({ key: uuidv7(), what, takenAt: new Date().toISOString() }),
    again: () => keep.variables && keep.mutate(keep.variables),
    /** Seen, and not kept by the server. */
    unsent: keep.isError,
    counts: keep.isSuccess ? keep.data.counts : undefined,
    busy: keep.isPending,
    error: keep.error,
  };
}
