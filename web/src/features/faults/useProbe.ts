import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';

/** Two sides of a reading beside the plan; `b` null is all other circuits. */
export interface Sides {
  a: string[];
  b: string[] | null;
  moved: boolean;
}

/** A reading as it is kept: with its key, so that it can be sent again. */
interface Taken extends Sides {
  key: string;
  ohms: number | null;
  fromMeter: boolean;
  takenAt: string;
}

/** Takes readings beside the plan and keeps them; what could not be sent is held, under the same key, until it is sent or let go. */
export function useProbe(job: number, run: number, seen: number) {
  const client = useQueryClient();
  const keep = useMutation({
    mutationFn: (taken: Taken) =>
      given(
        api.POST('/api/runs/{id}/probes', {
          params: { path: { id: run } },
          body: { ...taken, overRange: taken.ohms === null, seen },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.faults(job) }),
  });
  const measure = useMutation({
    mutationFn: (sides: Sides) =>
      given(api.POST('/api/runs/{id}/probes/measure', { params: { path: { id: run } }, body: sides })),
    onSuccess: (reading, sides) => take(sides, reading.ohms, true),
  });
  const take = (sides: Sides, ohms: number | null, fromMeter: boolean) =>
    keep.mutate({ ...sides, key: uuidv7(), ohms, fromMeter, takenAt: new Date().toISOString() });
  return {
    take: (sides: Sides, ohms: number | null) => take(sides, ohms, false),
    measure: (sides: Sides) => measure.mutate(sides),
    again: () => keep.variables && keep.mutate(keep.variables),
    /** Taken, and not kept by the server. */
    unsent: keep.isError ? keep.variables : undefined,
    last: keep.isSuccess ? { ...keep.variables, counts: keep.data.counts } : undefined,
    busy: keep.isPending || measure.isPending,
    error: keep.error ?? measure.error,
  };
}
