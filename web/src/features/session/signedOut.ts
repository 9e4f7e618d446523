import { useSyncExternalStore } from 'react';
import { Refused } from '../../api/client';

let out = false;
const told = new Set<() => void>();

function set(now: boolean) {
  if (out === now) return;
  out = now;
  told.forEach((tell) => tell());
}

/** Looks at what went wrong: an answer that nobody is signed in says that the session has ended. */
export function noticeSignedOut(error: unknown, meta?: Record<string, unknown>) {
  if (error instanceof Refused && error.status === 401 && !meta?.atTheDoor) set(true);
}

export const signedInAgain = () => set(false);

/** Whether the session ended while a page was open. */
export const useSignedOut = () =>
  useSyncExternalStore(
    (tell) => {
      told.add(tell);
      return () => told.delete(tell);
    },
    () => out,
  );
