import { Refused, type Schemas } from '../../api/client';
import { nobody, type OutboxStore, type Waiting } from './outboxStore';

/** What the page can know about readings on their way. */
export interface OutboxState {
  /** Of this person, and not yet confirmed by the server. */
  waiting: readonly Waiting[];
  /** Of other people who measured in this browser: each is sent when its person signs in. */
  others: readonly Waiting[];
  /** What the server will never take, each with its words. */
  refused: readonly Waiting[];
  /** Keys of readings that this browser could not keep: they live only as long as this page. */
  unkept: ReadonlySet<string>;
  /** Why the last attempt to send did not work; null when it did. */
  trouble: string | null;
}

/** What the queue needs of the world. */
export interface OutboxWorld {
  me: Waiting['person'];
  store: OutboxStore;
  send: (run: number, takenBy: string, readings: Waiting['reading'][]) => Promise<Schemas['ReadingsAnswer']>;
  /** The page shows the server's word before the queue lets go of its own. */
  onStored: (job: number, run: number, answer: Schemas['ReadingsAnswer']) => Promise<void>;
  /** The session is not what this page thinks it is. */
  onSignedOut: () => void;
  /** Calls back later; gives what cancels that. */
  later: (call: () => void) => () => void;
}

const largestBatch = 200;

/** Answers that the same readings would get again, however often they are sent. */
const final = new Set([404, 409, 413, 422]);

/** The session belongs to somebody else by now. */
export const otherPerson = 'urn:wise-loom:other-person';

/** Keeps readings until the server has confirmed them, over reloads and restarts, and sends them by itself. */
export class OutboxQueue {
  state: OutboxState = { waiting: [], others: [], refused: [], unkept: new Set(), trouble: null };
  private readonly listeners = new Set<() => void>();
  /** What the store could not keep. */
  private readonly unkept = new Map<string, Waiting>();
  private sending = false;
  private cancel: () => void = () => undefined;

  constructor(private readonly world: OutboxWorld) {}

  readonly subscribe = (tell: () => void) => {
    this.listeners.add(tell);
    return () => this.listeners.delete(tell);
  };

  /** Keeps a reading on this machine, then sends it; resolves when it is kept, or in sight because it could not be. */
  readonly take = async (taken: Omit<Waiting, 'person'>) => {
    const entry: Waiting = { ...taken, person: this.world.me };
    await this.keep(entry);
    this.set({ waiting: [...this.state.waiting.filter((w) => w.key !== entry.key), entry] });
    void this.flush();
  };

  /** Lets go of readings that the server will never take. */
  readonly putAway = async (keys: readonly string[]) => {
    await this.drop(keys);
    await this.look();
  };

  /** Takes readings that belong to nobody known as one's own. */
  readonly claim = async () => {
    for (const entry of this.state.others.filter((o) => o.person.id === nobody.id))
      await this.keep({ ...entry, person: this.world.me });
    await this.flush();
  };

  /** Sends all that waits, oldest first, each run by itself; tries again by itself until it is through. */
  readonly flush = async () => {
    if (this.sending) return;
    this.sending = true;
    this.cancel();
    let trouble: string | null = null;
    try {
      await this.look();
      const tried = new Set<string>();
      for (let next = this.next(tried); next.length > 0 && trouble === null; next = this.next(tried)) {
        next.forEach((w) => tried.add(w.key));
        trouble = await this.sendBatch(next);
      }
    } finally {
      this.sending = false;
      await this.look();
      this.set({ trouble });
      if (trouble !== null) this.cancel = this.world.later(() => void this.flush());
      // A reading that was kept while the last message was under way.
      else if (this.state.waiting.length > 0) void this.flush();
    }
  };

  /** The oldest that has not been tried, with what waits for the same run. */
  private next(tried: ReadonlySet<string>): Waiting[] {
    const left = this.state.waiting.filter((w) => !tried.has(w.key));
    return left.filter((w) => w.runId === left[0]?.runId).slice(0, largestBatch);
  }

  /** Sends a batch; one that is refused for good is sent piece by piece, so that what is wrong with one holds up no other.
   *  @returns Why it did not work this time; null when each was stored or refused for good. */
  private async sendBatch(batch: Waiting[]): Promise<string | null> {
    const [first] = batch;
    if (!first) return null;
    let answer;
    try {
      answer = await this.world.send(
        first.runId,
        this.world.me.id,
        batch.map((w) => w.reading),
      );
    } catch (error) {
      if (!(error instanceof Refused)) return 'The server does not answer.';
      if (error.type === otherPerson || error.status === 401 || error.type === 'urn:wise-loom:token') {
        this.world.onSignedOut();
        return error.status === 401
          ? `${this.world.me.name} is signed out: sign in again and they will be sent.`
          : `Somebody else has signed in here: ${this.world.me.name} must sign in again.`;
      }
      if (!final.has(error.status) && error.status !== 400) return error.message;
      if (batch.length === 1) {
        await this.refuse(first, error.message);
        return null;
      }
      for (const one of batch) {
        const trouble = await this.sendBatch([one]);
        if (trouble !== null) return trouble;
      }
      return null;
    }
    await this.world.onStored(first.jobId, first.runId, answer);
    await this.drop(answer.stored.map((s) => s.key));
    for (const { key, message } of answer.refused) {
      const entry = batch.find((w) => w.key === key);
      if (entry) await this.refuse(entry, message);
    }
    return null;
  }

  private async keep(entry: Waiting) {
    try {
      await this.world.store.put(entry);
      this.unkept.delete(entry.key);
    } catch {
      this.unkept.set(entry.key, entry);
    }
  }

  private refuse(entry: Waiting, message: string) {
    return this.keep({ ...entry, refused: message });
  }

  private async drop(keys: readonly string[]) {
    keys.forEach((key) => this.unkept.delete(key));
    await this.world.store.remove(keys).catch(() => undefined);
  }

  /** Looks at what is kept here, and what only this page holds. */
  private async look() {
    const kept = await this.world.store.all().catch((): Waiting[] => []);
    const all = [...kept.filter((w) => !this.unkept.has(w.key)), ...this.unkept.values()].sort((a, b) =>
      a.key < b.key ? -1 : 1,
    );
    const mine = all.filter((w) => w.person.id === this.world.me.id);
    this.set({
      waiting: mine.filter((w) => w.refused === undefined),
      refused: mine.filter((w) => w.refused !== undefined),
      others: all.filter((w) => w.person.id !== this.world.me.id),
      unkept: new Set(this.unkept.keys()),
    });
  }

  /** Nobody is told of what is as it was: between two readings the queue looks many times. */
  private set(change: Partial<OutboxState>) {
    const { waiting, others, refused, unkept, trouble } = { ...this.state, ...change };
    const is = this.state;
    if (
      trouble === is.trouble &&
      isSame(waiting, is.waiting) &&
      isSame(others, is.others) &&
      isSame(refused, is.refused) &&
      unkept.size === is.unkept.size &&
      [...unkept].every((key) => is.unkept.has(key))
    )
      return;
    this.state = { waiting, others, refused, unkept, trouble };
    this.listeners.forEach((tell) => tell());
  }
}

/** Whether two lists hold the same readings: one that is kept never changes but in whose it is and why it is refused. */
const isSame = (one: readonly Waiting[], other: readonly Waiting[]) =>
  one.length === other.length &&
  one.every((w, i) => {
    const o = other[i];
    return w.key === o?.key && w.person.id === o.person.id && w.refused === o.refused;
  });
