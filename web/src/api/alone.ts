import { useSyncExternalStore } from 'react';

/** How often one asks whether the server is back, in ms. */
const askAgain = 2000;

const listeners = new Set<() => void>();
let since: number | null = null;
let timer: ReturnType<typeof setTimeout> | undefined;

function set(next: number | null) {
  since = next;
  listeners.forEach((tell) => tell());
}

/** The server did not answer, or not by itself: from now on it is asked again and again. */
export function noticeAlone() {
  if (since !== null) return;
  set(Date.now());
  ask();
}

function ask() {
  clearTimeout(timer);
  timer = setTimeout(() => {
    fetch('/health', { cache: 'no-store' })
      .then((answer) => (answer.ok ? set(null) : ask()))
      .catch(ask);
  }, askAgain);
}

/** Since when no server answers; null while one does. */
export function useAloneSince(): number | null {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => since,
  );
}
