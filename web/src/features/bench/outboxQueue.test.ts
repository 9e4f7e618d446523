import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Refused, type Schemas } from '../../api/client';
import { otherPerson, OutboxQueue, type OutboxWorld } from './outboxQueue';
import { nobody, type OutboxStore, type Waiting } from './outboxStore';
import { mira, sampleProgress, sampleReading, sampleStanding, tomas } from './sample';

/** A browser's store that can be made to refuse. */
class Memory implements OutboxStore {
  entries = new Map<string, Waiting>();
  broken = false;
  private check() {
    if (this.broken) throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
  }
  all = async () => {
    await Promise.resolve();
    this.check();
    return [...this.entries.values()].sort((a, b) => (a.key < b.key ? -1 : 1));
  };
  put = async (entry: Waiting) => {
    await Promise.resolve();
    this.check();
    this.entries.set(entry.key, entry);
  };
  remove = async (keys: readonly string[]) => {
    await Promise.resolve();
    this.check();
    keys.forEach((k) => this.entries.delete(k));
  };
}

const answer = (stored: readonly string[], refused: Schemas['RefusedView'][] = []): Schemas['ReadingsAnswer'] => ({
  stored: stored.map((key) => ({
    key,
    bearing: 'stands',
    standing: sampleStanding(1, 'pass'),
    reading: {
      key,
      value: 0.045,
      text: '45.0 mΩ',
      verdict: 'pass',
      by: mira.name,
      at: '2031-03-04T08:00:00Z',
      moved: null,
    },
  })),
  refused,
  progress: sampleProgress,
  lastEvent: stored.length,
});

type Serve = (run: number, by: string, keys: string[]) => Schemas['ReadingsAnswer'] | Error;

/** A queue in a world of its own; what it sends is written down, and nothing is tried again by a clock. */
function world(serve: Serve, store = new Memory(), me = mira) {
  const log = { sent: [] as { run: number; by: string; keys: string[] }[], stored: 0, signedOut: 0, later: 0 };
  const of: OutboxWorld = {
    me,
    store,
    send: async (run, by, readings) => {
      await Promise.resolve();
      const keys = readings.map((r) => r.key);
      log.sent.push({ run, by, keys });
      const came = serve(run, by, keys);
      if (came instanceof Error) throw came;
      return came;
    },
    onStored: async () => {
      await Promise.resolve();
      log.stored++;
    },
    onSignedOut: () => log.signedOut++,
    later: () => {
      log.later++;
      return () => undefined;
    },
  };
  return { queue: new OutboxQueue(of), store, log };
}

const takeAll: Serve = (_, __, keys) => answer(keys);
const refused = (status: number, type = '') => new Refused(status, `refused with ${status}`, [], type);

/** Waits until the queue has nothing more to do. */
async function settled(queue: OutboxQueue) {
  await queue.flush();
  for (let i = 0; i < 200; i++) await Promise.resolve();
}

describe('readings on their way', () => {
  it('are kept, sent under their own name, and let go when the server has them', async () => {
    const { queue, store, log } = world(takeAll);
    await queue.take(sampleReading('a'));
    await settled(queue);
    expect(log.sent).toEqual([{ run: 7, by: 'mira', keys: ['a'] }]);
    expect(store.entries.size).toBe(0);
    expect(queue.state.waiting).toEqual([]);
  });

  it('stay while the server does not answer, and say why', async () => {
    const { queue, store, log } = world(() => new TypeError('Failed to fetch'));
    await queue.take(sampleReading('a'));
    await settled(queue);
    expect(store.entries.size).toBe(1);
    expect(queue.state).toMatchObject({ trouble: 'The server does not answer.' });
    expect(queue.state.waiting).toHaveLength(1);
    expect(log.later).toBeGreaterThan(0);
  });

  it.each([404, 409, 413, 422, 400])('that are refused for good with %i hold up no others', async (status) => {
    const { queue, store, log } = world((run, _, keys) => (run === 7 ? refused(status) : answer(keys)));
    for (const entry of [sampleReading('a', 1, 7), sampleReading('b', 2, 8), sampleReading('c', 3, 7)])
      await store.put(entry);
    await settled(queue);
    expect(log.sent.flatMap((s) => (s.run === 8 ? s.keys : []))).toEqual(['b']);
    expect(queue.state.refused.map((w) => [w.key, w.refused])).toEqual([
      ['a', `refused with ${status}`],
      ['c', `refused with ${status}`],
    ]);
    expect(queue.state.waiting).toEqual([]);
    expect(store.entries.size).toBe(2);
    await queue.putAway(['a', 'c']);
    expect(store.entries.size).toBe(0);
  });

  it('of a batch with one that the server cannot read, all others are stored', async () => {
    const { queue, store } = world((_, __, keys) => (keys.includes('b') ? refused(422) : answer(keys)));
    for (const key of ['a', 'b', 'c']) await store.put(sampleReading(key));
    await settled(queue);
    expect(queue.state.refused.map((w) => w.key)).toEqual(['b']);
    expect([...store.entries.keys()]).toEqual(['b']);
  });

  it('that the server refuses one by one stay in sight with its words', async () => {
    const { queue } = world((_, __, keys) =>
      answer(
        keys.filter((k) => k !== 'b'),
        [{ key: 'b', message: 'no such step' }],
      ),
    );
    await queue.take(sampleReading('a'));
    await queue.take(sampleReading('b'));
    await settled(queue);
    expect(queue.state.refused.map((w) => w.refused)).toEqual(['no such step']);
  });

  it('of another person are not sent, and say whose they are', async () => {
    const { queue, store, log } = world(takeAll);
    await store.put(sampleReading('a', 1, 7, tomas));
    await queue.take(sampleReading('b'));
    await settled(queue);
    expect(log.sent.flatMap((s) => s.keys)).toEqual(['b']);
    expect(queue.state.others.map((w) => w.person.name)).toEqual(['Tomas Wren']);
    expect(store.entries.has('a')).toBe(true);
  });

  it('of nobody known are sent when somebody says that they are theirs', async () => {
    const { queue, store, log } = world(takeAll);
    await store.put(sampleReading('a', 1, 7, nobody));
    await settled(queue);
    expect(log.sent).toEqual([]);
    await queue.claim();
    await settled(queue);
    expect(log.sent).toEqual([{ run: 7, by: 'mira', keys: ['a'] }]);
  });

  it.each([
    [401, '', 'Mira Solstad is signed out: sign in again and they will be sent.'],
    [409, otherPerson, 'Somebody else has signed in here: Mira Solstad must sign in again.'],
    [400, 'urn:wise-loom:token', 'Somebody else has signed in here: Mira Solstad must sign in again.'],
  ])('wait when the session is not theirs (%i %s)', async (status, type, words) => {
    const { queue, store, log } = world(() => refused(status, type));
    await queue.take(sampleReading('a'));
    await settled(queue);
    expect(queue.state.trouble).toBe(words);
    expect(log.signedOut).toBeGreaterThan(0);
    expect(store.entries.size).toBe(1);
    expect(queue.state.refused).toEqual([]);
  });

  it('that the browser cannot keep stay in sight until the server has them', async () => {
    let away = true;
    const { queue, store } = world((_, __, keys) => (away ? new TypeError('away') : answer(keys)));
    store.broken = true;
    await queue.take(sampleReading('a'));
    await settled(queue);
    expect(queue.state.waiting.map((w) => w.key)).toEqual(['a']);
    expect(queue.state.unkept.has('a')).toBe(true);
    away = false;
    await settled(queue);
    expect(queue.state.waiting).toEqual([]);
    expect(queue.state.unkept.size).toBe(0);
  });
});

/** Whatever the server does in whatever order, what was taken is either at the server or in sight, under its own name. */
it('no reading is lost, doubled in sight, or sent under another name', async () => {
  const outcome = fc.constantFrom('stored', 'away', 'lost', 422, 404, 500, 401);
  const act = fc.oneof(
    fc.record({ run: fc.constantFrom(7, 8), who: fc.constantFrom(mira, tomas) }),
    fc.constant('flush' as const),
  );
  await fc.assert(
    fc.asyncProperty(
      fc.array(act, { maxLength: 12 }),
      fc.array(outcome, { maxLength: 30 }),
      fc.boolean(),
      async (acts, outcomes, broken) => {
        const store = new Memory();
        const server = new Map<string, string>();
        const left = [...outcomes];
        const serve: Serve = (_, by, keys) => {
          const what = left.shift() ?? 'stored';
          if (what === 'away') return new TypeError('away');
          if (typeof what === 'number') return refused(what);
          keys.forEach((k) => server.set(k, by));
          return what === 'lost' ? new TypeError('the answer was lost') : answer(keys);
        };
        const people = { mira: world(serve, store, mira), tomas: world(serve, store, tomas) };
        const taken = new Map<string, string>();
        store.broken = broken;
        for (const [n, a] of acts.entries()) {
          if (a === 'flush') await settled(people.mira.queue);
          else {
            const key = `k${String(n).padStart(2, '0')}`;
            taken.set(key, a.who.id);
            await people[a.who.id as 'mira' | 'tomas'].queue.take(sampleReading(key, 1, a.run, a.who));
          }
        }
        for (const { queue } of Object.values(people)) await settled(queue);
        for (const [key, who] of taken) {
          const { state } = people[who as 'mira' | 'tomas'].queue;
          const seen = [...state.waiting, ...state.refused].filter((w) => w.key === key);
          if (!server.has(key) && seen.length !== 1) return false;
          if (seen.length > 1 || (server.has(key) && server.get(key) !== who)) return false;
        }
        return true;
      },
    ),
    { numRuns: 150 },
  );
});
