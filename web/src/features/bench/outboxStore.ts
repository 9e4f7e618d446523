import { openDB, type DBSchema, type IDBPObjectStore } from 'idb';
import type { Schemas } from '../../api/client';

/** A reading that the server has not confirmed yet. */
export interface Waiting {
  key: string;
  jobId: number;
  runId: number;
  /** Who took it; it is sent from nobody else's session. */
  person: { id: string; name: string };
  reading: Schemas['ReadingRequest'];
  /** Why the server will never take it; it stays in sight until its person puts it away. */
  refused?: string;
}

/** Where readings are kept until the server has them. */
export interface OutboxStore {
  /** All that is kept, in the order in which it was taken (keys sort by time). */
  all: () => Promise<Waiting[]>;
  /** Resolves when the reading is safe on this machine. */
  put: (entry: Waiting) => Promise<void>;
  remove: (keys: readonly string[]) => Promise<void>;
}

interface Shape extends DBSchema {
  readings: { key: string; value: Waiting };
}

/** Readings that an earlier version kept without a name belong to nobody known; whoever signs in sees them and may take them as theirs. */
export const nobody = { id: '', name: 'somebody, before an update' };

// Kept in the browser's own database: outlives reloads, crashes and a server that is away.
const open = () =>
  openDB<Shape>('wise-loom', 2, {
    upgrade(db, from, _, tx) {
      if (from < 1) db.createObjectStore('readings', { keyPath: 'key' });
      else void nameNobody(tx.objectStore('readings'));
    },
  });

/** Gives readings of the first version, which did not say whose they are, to nobody known. */
async function nameNobody(store: IDBPObjectStore<Shape, 'readings'[], 'readings', 'versionchange'>) {
  for (const old of await store.getAll())
    await store.put({ ...old, person: nobody, reading: { ...old.reading, seen: 0 } });
}

let opened: ReturnType<typeof open> | undefined;
function database() {
  opened ??= open();
  // A database that could not be opened is tried again by the next reading.
  opened.catch(() => (opened = undefined));
  return opened;
}

export const outboxStore: OutboxStore = {
  all: async () => (await database()).getAll('readings'),
  put: async (entry) => {
    await (await database()).put('readings', entry);
  },
  remove: async (keys) => {
    const tx = (await database()).transaction('readings', 'readwrite');
    await Promise.all([...keys.map((k) => tx.store.delete(k)), tx.done]);
  },
};
