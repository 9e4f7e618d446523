import { api, given, Refused, type Schemas } from '../../api/client';
import { outboxStore, type Waiting } from './outboxStore';

/** What the page can know about readings on their way. */
export interface OutboxState {
  /** Kept here and not yet confirmed by the server. */
  waiting: readonly Waiting[];
  /** Why the last attempt to send did not work; null when it did. */
  trouble: string | null;
  /** What the server will never take, in its words. */
  refused: readonly string[];
}

const beforeNextTry = 1500;
const largestBatch = 200;

/** Keeps readings until the server has confirmed them, over reloads and restarts, and sends them by itself. */
export class OutboxQueue {
  state: OutboxState = { waiting: [], trouble: null, refused: [] };
  private readonly listeners = new Set<() => void>();
  private sending = false;
  private again: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly onStored: (job: number, answer: Schemas['ReadingsAnswer']) => Promise<void>,
    private readonly onSignedOut: () => void,
  ) {}

  readonly subscribe = (tell: () => void) => {
    this.listeners.add(tell);
    return () => this.listeners.delete(tell);
  };

  /** Keeps a reading on this machine, then sends it; resolves when it is kept. */
  readonly take = async (entry: Waiting) => {
    await outboxStore.put(entry);
    this.set({ waiting: [...this.state.waiting, entry] });
    void this.flush();
  };

  /** Sends all that waits, oldest first; tries again by itself until it is through. */
  readonly flush = async () => {
    if (this.sending) return;
    this.sending = true;
    clearTimeout(this.again);
    try {
      while (await this.sendOldest());
      this.set({ trouble: null });
    } catch (error) {
      this.set({ trouble: words(error) });
      if (error instanceof Refused && (error.status === 400 || error.status === 401)) this.onSignedOut();
      this.again = setTimeout(() => void this.flush(), beforeNextTry);
    } finally {
      this.sending = false;
      this.set({ waiting: await outboxStore.all() });
      // A reading that was kept while the last message was under way.
      if (this.state.waiting.length > 0 && this.state.trouble === null) void this.flush();
    }
  };

  private async sendOldest(): Promise<boolean> {
    const all = await outboxStore.all();
    const first = all[0];
    if (!first) return false;
    const batch = all.filter((w) => w.runId === first.runId).slice(0, largestBatch);
    const answer = await given(
      api.POST('/api/runs/{id}/readings', {
        params: { path: { id: first.runId } },
        body: { readings: batch.map((w) => w.reading) },
      }),
    );
    // The page shows the server's word before it lets go of its own.
    await this.onStored(first.jobId, answer);
    await outboxStore.remove([...answer.stored, ...answer.refused].map((r) => r.key));
    this.set({
      waiting: await outboxStore.all(),
      refused: [...this.state.refused, ...answer.refused.map((r) => r.message)],
    });
    return true;
  }

  private set(change: Partial<OutboxState>) {
    this.state = { ...this.state, ...change };
    this.listeners.forEach((tell) => tell());
  }
}

function words(error: unknown): string {
  if (!(error instanceof Refused)) return 'The server does not answer.';
  return error.status === 401 ? 'You are signed out: sign in again and they will be sent.' : error.message;
}
