import { openDB, type DBSchema } from 'idb';
import type { Schemas } from '../../api/client';

/** A reading that the server has not confirmed yet. */
export interface Waiting {
  key: string;
  jobId: number;
  runId: number;
  reading: Schemas['ReadingRequest'];
}

interface Shape extends DBSchema {
  readings: { key: string; value: Waiting };
}

// Kept in the browser's own database: outlives reloads, crashes and a server that is away.
const open = () =>
  openDB<Shape>('wise-loom', 1, {
    upgrade(db) {
      db.createObjectStore('readings', { keyPath: 'key' });
    },
  });

let opened: ReturnType<typeof open> | undefined;
const database = () => (opened ??= open());

export const outboxStore = {
  /** All that waits, in the order in which it was taken (keys sort by time). */
  all: async () => (await database()).getAll('readings'),
  /** Resolves when the reading is safe on this machine. */
  put: async (entry: Waiting) => {
    await (await database()).put('readings', entry);
  },
  remove: async (keys: readonly string[]) => {
    const tx = (await database()).transaction('readings', 'readwrite');
    await Promise.all([...keys.map((k) => tx.store.delete(k)), tx.done]);
  },
};
