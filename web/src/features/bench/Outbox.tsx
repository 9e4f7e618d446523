import { useQueryClient } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useState, useSyncExternalStore, type ReactNode } from 'react';
import type { Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { OutboxQueue, type OutboxState } from './outboxQueue';

type Bench = Schemas['BenchView'];

const Context = createContext<OutboxQueue | null>(null);

/** The readings on their way, and the way to send one. */
export function useOutbox(): OutboxState & Pick<OutboxQueue, 'take'> {
  const queue = useContext(Context);
  if (!queue) throw new Error('The outbox is not there.');
  const state = useSyncExternalStore(queue.subscribe, () => queue.state);
  return { ...state, take: queue.take };
}

/** Gives the pages one outbox; what was left from before is sent at once. */
export function Outbox({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [queue] = useState(
    () =>
      new OutboxQueue(
        async (job, answer) => {
          // A fetch that set out before this answer would bring back the time before it.
          await client.cancelQueries({ queryKey: keys.bench(job) });
          client.setQueryData<Bench>(keys.bench(job), (bench) => bench && settled(bench, answer));
        },
        () => void client.invalidateQueries({ queryKey: keys.session }),
      ),
  );
  useEffect(() => {
    const now = () => void queue.flush();
    now();
    window.addEventListener('online', now);
    return () => window.removeEventListener('online', now);
  }, [queue]);
  return <Context value={queue}>{children}</Context>;
}

/** The bench with the server's word on the readings it has stored. */
function settled(bench: Bench, answer: Schemas['ReadingsAnswer']): Bench {
  if (!bench.run) return bench;
  const of = new Map(answer.stored.map((s) => [s.step, s]));
  const steps = bench.run.steps.map((step) => {
    const stored = of.get(step.number);
    return stored ? { ...step, state: stored.state, last: stored.reading, skipped: null } : step;
  });
  return { ...bench, run: { ...bench.run, steps, progress: answer.progress } };
}
