import { useQueryClient } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useState, useSyncExternalStore, type ReactNode } from 'react';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { settle } from './followRun';
import { OutboxQueue, type OutboxState } from './outboxQueue';
import { outboxStore, type Waiting } from './outboxStore';
import { OutboxNotices } from './OutboxNotices';

const beforeNextTry = 1500;

const Context = createContext<OutboxQueue | null>(null);

/** The readings on their way, and the way to send one. */
export function useOutbox(): OutboxState & Pick<OutboxQueue, 'take' | 'putAway' | 'claim'> {
  const queue = useContext(Context);
  if (!queue) throw new Error('The outbox is not there.');
  const state = useSyncExternalStore(queue.subscribe, () => queue.state);
  return { ...state, take: queue.take, putAway: queue.putAway, claim: queue.claim };
}

/** Gives the pages one outbox for the person who is signed in; what was left from before is sent at once. */
export function Outbox({ me, children }: { me: Waiting['person']; children: ReactNode }) {
  const client = useQueryClient();
  const [queue] = useState(
    () =>
      new OutboxQueue({
        me,
        store: outboxStore,
        send: (run, takenBy, readings) =>
          given(api.POST('/api/runs/{id}/readings', { params: { path: { id: run } }, body: { takenBy, readings } })),
        onStored: (job, run, answer) => settle(client, job, run, answer),
        onSignedOut: () => void client.invalidateQueries({ queryKey: keys.session }),
        later: (call) => {
          const timer = setTimeout(call, beforeNextTry);
          return () => clearTimeout(timer);
        },
      }),
  );
  useEffect(() => {
    const now = () => void queue.flush();
    now();
    window.addEventListener('online', now);
    return () => window.removeEventListener('online', now);
  }, [queue]);
  return (
    <Context value={queue}>
      <OutboxNotices />
      {children}
    </Context>
  );
}
