import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { api, begunFrom, given } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, ButtonLink } from '../../ui/Controls';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';
import { lookOnly, useMayChange } from '../../ui/mayChange';
import { useJob } from '../jobs/JobShell';
import { Editor } from './Editor';

/** The loom as it is being written. A job has one open draft at most, which everybody shares. */
export function DraftPage() {
  const { job } = useJob();
  const mayChange = useMayChange();
  const drafts = useQuery({
    queryKey: keys.draft(job.id),
    queryFn: () => given(api.GET('/api/jobs/{id}/draft', { params: { path: { id: job.id } } })),
    ...begunFrom,
  });
  if (drafts.isPending) return <Loading what="the draft" />;
  if (drafts.isError) return <ErrorNotice error={drafts.error} />;
  const { open, putAway, newest } = drafts.data;
  if (!mayChange)
    return (
      <div className="p-6">
        <Notice tone="mind">
          {open ? `${open.changedBy} has a draft of this loom open. ` : 'No draft is open. '}
          {lookOnly}
        </Notice>
      </div>
    );
  return open ? <Editor key={open.id} draft={open} newest={newest} /> : <Begin putAway={putAway} />;
}

function Begin({ putAway }: { putAway: number | null }) {
  const { job } = useJob();
  const client = useQueryClient();
  const navigate = useNavigate();
  const again = () => client.invalidateQueries({ queryKey: keys.draft(job.id) });
  const begin = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/jobs/{id}/draft', {
          params: { path: { id: job.id } },
          body: { fromRevision: null, document: null },
        }),
      ),
    onSuccess: again,
  });
  const reopen = useMutation({
    mutationFn: (id: number) => given(api.POST('/api/drafts/{id}/reopen', { params: { path: { id } } })),
    onSuccess: again,
  });
  return (
    <div className="mx-auto w-full max-w-3xl space-y-5 p-6">
      <h2 className="text-2xl font-bold">{job.revisionId ? 'Rework this loom' : 'Enter the loom'}</h2>
      <p className="text-lg">
        {job.revisionId
          ? `A draft begins as revision ${job.revision ?? ''} stands. What was tested stays what it was; the draft becomes a revision of its own when it is released.`
          : 'Begin with an empty loom: type or paste its wires, take plugs from the shop’s families, and watch stem and faces grow.'}
      </p>
      <ErrorNotice error={begin.error ?? reopen.error} />
      <div className="flex flex-wrap gap-3">
        <Button changes kind="main" onClick={() => begin.mutate()} disabled={begin.isPending}>
          {job.revisionId ? 'Begin a draft' : 'Begin with an empty loom'}
        </Button>
        {putAway !== null && (
          <Button changes onClick={() => reopen.mutate(putAway)}>
            Take out the draft that was put away
          </Button>
        )}
        <ButtonLink to={`/jobs/${job.id}/import`}>Bring a file in</ButtonLink>
        {job.revisionId && <Button onClick={() => void navigate(`/jobs/${job.id}/loom`)}>Back to the loom</Button>}
      </div>
    </div>
  );
}
