import { useEffect } from 'react';

/** Says whether what was decided is kept by the server yet; until it is, the page is not left without a question. */
export function Keeping({ pending, failed }: { pending: boolean; failed: boolean }) {
  useEffect(() => {
    if (!pending) return;
    const hold = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', hold);
    return () => window.removeEventListener('beforeunload', hold);
  }, [pending]);
  return (
    <span
      role="status"
      data-testid="keeping"
      className={`text-sm ${failed ? 'font-bold text-fail' : pending ? 'text-soft' : 'text-pass'}`}
    >
      {failed ? 'The last one was not kept' : pending ? 'Saving …' : 'Saved'}
    </span>
  );
}
