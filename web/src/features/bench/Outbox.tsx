import { useQueryClient } from '@tanstack/react-query';
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { api, given, Refused, type Schemas } from '../../api/client';
import { outboxStore, type Waiting } from './outboxStore';

type Bench = Schemas['BenchView'];

interface OutboxContext {
  /** Readings that are kept here and not yet confirmed by the server. */
  waiting: readonly Waiting[];
  /** Why the last attempt to send did not work; null when it did. */
  trouble: string | null;
  /** What the server will never take, in its words. */
  refused: readonly string[];
  /** Keeps a reading here, then sends it. Resolves when it is kept. */
  take: (entry: Waiting) => Promise<void>;
}

const Context = createContext<OutboxContext | null>(null);

export function useOutbox(): OutboxContext {
  const outbox = useContext(Context);
  if (!outbox) throw new Error('The outbox is not there.');
  return outbox;
}

const beforeNextTry = 1500;

/** Keeps readings until the server has confirmed them, over reloads and restarts, and sends them by itself. */
export function Outbox({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [waiting, setWaiting] = useState<readonly Waiting[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [refused, setRefused] = useState<readonly string[]>([]);
  const sending = useRef(false);
  const again = useRef<ReturnType<typeof setTimeout>>(undefined);

  const flush = useCallback(async () => {
    if (sending.current) return;
    sending.current = true;
    clearTimeout(again.current);
    try {
      for (let batch = next(await outboxStore.all()); batch.length > 0; batch = next(await outboxStore.all())) {
        const first = batch[0];
        if (!first) break;
        const answer = await given(
          api.POST('/api/runs/{id}/readings', {
            params: { path: { id: first.runId } },
            body: { readings: batch.map((w) => w.reading) },
          }),
        );
        await outboxStore.remove([...answer.stored, ...answer.refused].map((r) => r.key));
        client.setQueryData<Bench>(['bench', first.jobId], (bench) => bench && settled(bench, answer));
        if (answer.refused.length > 0) setRefused((was) => [...was, ...answer.refused.map((r) => r.message)]);
      }
      setTrouble(null);
    } catch (error) {
      setTrouble(words(error));
      if (error instanceof Refused && (error.status === 400 || error.status === 401))
        void client.invalidateQueries({ queryKey: ['session'] });
      again.current = setTimeout(() => void flush(), beforeNextTry);
    } finally {
      sending.current = false;
      setWaiting(await outboxStore.all());
    }
  }, [client]);

  const take = useCallback(
    async (entry: Waiting) => {
      await outboxStore.put(entry);
      setWaiting((was) => [...was, entry]);
      void flush();
    },
    [flush],
  );

  useEffect(() => {
    const start = setTimeout(() => void flush(), 0);
    const now = () => void flush();
    window.addEventListener('online', now);
    return () => {
      window.removeEventListener('online', now);
      clearTimeout(start);
      clearTimeout(again.current);
    };
  }, [flush]);

  const value = useMemo(() => ({ waiting, trouble, refused, take }), [waiting, trouble, refused, take]);
  return <Context value={value}>{children}</Context>;
}

/** The oldest readings of one run, few enough for one message. */
function next(all: Waiting[]): Waiting[] {
  const run = all[0]?.runId;
  return all.filter((w) => w.runId === run).slice(0, 200);
}

function words(error: unknown): string {
  if (!(error instanceof Refused)) return 'The server does not answer.';
  return error.status === 401 ? 'You are signed out: sign in again and they will be sent.' : error.message;
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
