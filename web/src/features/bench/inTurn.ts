/** Says one thing after the other, and of what waits meanwhile the last only: of two on their way at once the earlier might come last, and stand. */
export function inTurn() {
  let waiting: (() => Promise<unknown>) | undefined;
  let isUnderWay = false;

  async function goOn() {
    isUnderWay = true;
    for (let now = waiting; now; now = waiting) {
      waiting = undefined;
      await now().catch(() => undefined);
    }
    isUnderWay = false;
  }

  return {
    /** Says something now, or after what is on its way. A failure is nobody's: what is said next says it again. */
    say(what: () => Promise<unknown>) {
      waiting = what;
      if (!isUnderWay) void goOn();
    },
    /** The page goes away: what waits is said at once. */
    leave() {
      const last = waiting;
      waiting = undefined;
      void last?.().catch(() => undefined);
    },
  };
}
