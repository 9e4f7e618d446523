import 'fake-indexeddb/auto';
import { openDB } from 'idb';
import { expect, it } from 'vitest';
import { nobody } from './outboxStore';
import { sampleReading } from './sample';

it('keeps readings of an earlier version, as nobody known and from before everything', async () => {
  const old = await openDB('wise-loom', 1, {
    upgrade: (db) => void db.createObjectStore('readings', { keyPath: 'key' }),
  });
  const { key, jobId, runId, reading } = sampleReading('a');
  const { step, ohms, overRange, fromMeter, takenAt } = reading;
  await old.put('readings', { key, jobId, runId, reading: { key, step, ohms, overRange, fromMeter, takenAt } });
  old.close();
  const { outboxStore } = await import('./outboxStore');
  const all = await outboxStore.all();
  expect(all).toHaveLength(1);
  expect(all[0]).toMatchObject({ key: 'a', person: nobody, reading: { seen: 0, ohms: 0.045 } });
});

it('gives readings back in the order of their keys, and forgets what is removed', async () => {
  const { outboxStore } = await import('./outboxStore');
  for (const key of ['d', 'b', 'c']) await outboxStore.put(sampleReading(key));
  await outboxStore.remove(['c']);
  expect((await outboxStore.all()).map((w) => w.key)).toEqual(['a', 'b', 'd']);
});
