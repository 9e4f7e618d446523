import { ErrorNotice, Notice } from '../../ui/Notice';
import type { useSighting } from './useSighting';

/** What became of the last sighting that was sent. */
export function SightingNotes({ sighting }: { sighting: ReturnType<typeof useSighting> }) {
  return (
    <>
      <p aria-live="polite">
        {sighting.busy && 'Weighing it …'}
        {sighting.counts !== undefined &&
          (sighting.counts ? 'Kept.' : 'Kept, and it does not count: something was mended meanwhile.')}
      </p>
      <ErrorNotice error={sighting.error} />
      {sighting.unsent && (
        <Notice tone="mind">
          It is not at the server.{' '}
          <button type="button" className="cursor-pointer underline" onClick={sighting.again}>
            Send it again
          </button>
        </Notice>
      )}
    </>
  );
}
