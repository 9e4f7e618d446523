import { Button, ButtonLink } from '../../ui/Controls';
import { Notice } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';

/** A revision came in while the draft was open: a release needs that somebody has looked at it. */
export function NewerRevision({ known, onKnown }: { known: number; onKnown: (newest: number) => void }) {
  const { job } = useJob();
  const newest = job.revisionId ?? 0;
  if (newest === known) return null;
  return (
    <Notice tone="mind">
      <p className="font-bold">
        Revision {job.revision} came in while this draft was open. The draft does not have its changes.
      </p>
      <div className="mt-2 flex flex-wrap gap-3">
        <ButtonLink to={`/jobs/${job.id}/revisions`}>See what it changed</ButtonLink>
        <Button onClick={() => onKnown(newest)}>Go on without them</Button>
      </div>
    </Notice>
  );
}
