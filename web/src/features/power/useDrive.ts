import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { api, given } from '../../api/client';
import type { Check } from './words';

/** How an output is driven for a check: long enough to be felt. */
const pulses = { times: 5, onMs: 60, offMs: 240 };

/** Drives a check's output. Leaving the card cuts the line, and the controller switches it off. */
export function useDrive(job: number, check: Check, controller: string | null, cautionsSeen: boolean) {
  const cut = useRef<AbortController>(undefined);
  useEffect(() => () => cut.current?.abort(), []);
  const drive = useMutation({
    mutationFn: () => {
      cut.current?.abort();
      cut.current = new AbortController();
      return given(
        api.POST('/api/jobs/{id}/power-up/drive', {
          params: { path: { id: job } },
          body: { controller: controller ?? '', check: check.id, cautionsSeen, ...pulses },
          signal: cut.current.signal,
        }),
      );
    },
  });
  return {
    go: () => drive.mutate(),
    stop: () => cut.current?.abort(),
    busy: drive.isPending,
    told: drive.data
      ? `Driven ${drive.data.times} times${drive.data.amps == null ? '' : `; it drew ${Number(drive.data.amps.toPrecision(3))} A`}. Which one moved?`
      : drive.isPending
        ? 'Driving: look, listen, feel. Escape switches it off.'
        : '',
    error: drive.error instanceof DOMException ? null : drive.error,
  };
}
