import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { api, given, sendFile, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { ProblemRows } from '../../ui/ProblemRows';
import { Scroll } from '../../ui/Scroll';
import { useJob } from '../jobs/JobShell';

/** What taking a file in would do, and the ways of taking it: as a revision, a draft, a sheet of the book. */
export function TakeIn({
  name,
  preview,
  onTaken,
  children,
}: {
  name: string;
  preview: Schemas['ImportPreview'];
  /** It is about to be taken: what was said of it is worth keeping. */
  onTaken?: () => Promise<void>;
  children?: ReactNode;
}) {
  const { job } = useJob();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [revision, setRevision] = useState(preview.freeName ?? preview.revision ?? '');
  const sound =
    preview.document !== null && preview.problems.length === 0 && (preview.intake === null || preview.intake.wires > 0);
  const done = async (to: string) => {
    await onTaken?.();
    for (const of of [keys.job(job.id), keys.bench(job.id), keys.draft(job.id)])
      await client.invalidateQueries({ queryKey: of });
    await client.invalidateQueries({ queryKey: keys.jobs });
    await navigate(`/jobs/${job.id}/${to}`);
  };
  const asRevision = useMutation({
    mutationFn: () =>
      sendFile<Schemas['ImportView']>(
        `/api/jobs/${job.id}/loom?${new URLSearchParams({ after: String(preview.after), name: revision }).toString()}`,
        new Blob([JSON.stringify(preview.document)]),
        'application/json',
      ),
    onSuccess: (view) => done(view.draftId === null ? 'loom' : 'draft'),
  });
  const asDraft = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/jobs/{id}/draft', {
          params: { path: { id: job.id } },
          body: { fromRevision: null, document: preview.document },
        }),
      ),
    onSuccess: () => done('draft'),
  });
  const sheet = preview.intake?.sheet;
  const asSheet = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/sheets', {
          body: {
            title: sheet?.title ?? name,
            source: 'supplier-sheet',
            sourceNote: name,
            connectors: sheet?.connectors ?? [],
            lines: sheet?.lines ?? [],
          },
        }),
      ),
    onSuccess: async (made) => {
      await onTaken?.();
      await client.invalidateQueries({ queryKey: keys.sheets });
      await navigate(`/book/${made.id}`);
    },
  });
  return (
    <section aria-label="What the file would do" className="space-y-4">
      <p className="text-lg">
        <b>{name}</b> <span className="text-soft">{preview.kind}</span>
      </p>
      {preview.problems.length > 0 && (
        <Notice tone="wrong">
          <p className="font-bold">
            {preview.document
              ? 'This loom has problems. It can go on as a draft, not as a revision.'
              : 'The file cannot be read as it is.'}{' '}
            Nothing was stored.
          </p>
          <ProblemRows label="Problems" problems={preview.problems} />
        </Notice>
      )}
      {children}
      {sound && !preview.intake && (
        <Notice tone="good">
          <p className="font-bold">The file reads without a problem.</p>
          {preview.warnings.length > 0 && (
            <Scroll label="Doubtful things" className="mt-1 max-h-32">
              <ul className="list-disc pl-6">
                {preview.warnings.map((w, i) => (
                  <li key={i}>{w.message}</li>
                ))}
              </ul>
            </Scroll>
          )}
        </Notice>
      )}
      {preview.document !== null && (
        <>
          {preview.freeName !== null && preview.onlyDraft === null && (
            <Field
              label="Name of the revision"
              hint={`The file says ${preview.revision ?? ''}; this job has a revision of that name, and what was tested under it must stay what it was.`}
            >
              <Input value={revision} onChange={(e) => setRevision(e.target.value)} maxLength={40} required />
            </Field>
          )}
          {preview.onlyDraft !== null && <Notice tone="mind">{preview.onlyDraft}</Notice>}
          <div className="bottom-0 z-10 flex sm:sticky flex-wrap gap-3 border-t-2 border-edge bg-paper py-3">
            {preview.onlyDraft === null && (
              <Button changes kind="main" onClick={() => asRevision.mutate()} disabled={!sound || asRevision.isPending}>
                {job.revisionId ? 'Take it as a new revision' : 'Take it as the loom'}
              </Button>
            )}
            <Button onClick={() => asDraft.mutate()} disabled={asDraft.isPending}>
              Take it into a draft
            </Button>
            {sheet && (
              <Button changes onClick={() => asSheet.mutate()} disabled={asSheet.isPending}>
                Take it as a sheet of the pinout book
              </Button>
            )}
          </div>
          {job.revisionId && (
            <p className="text-soft">
              Readings stay with the revision that they were taken on. The bench starts anew; what the change does not
              touch can be carried over.
            </p>
          )}
          <ErrorNotice error={asRevision.error ?? asDraft.error ?? asSheet.error} />
          <Changes changes={preview.changes} counts={preview.changeCounts} first={!job.revisionId} />
        </>
      )}
    </section>
  );
}

function Changes({
  changes,
  counts,
  first,
}: {
  changes: readonly Schemas['LoomChange'][];
  counts: readonly Schemas['ListCount'][];
  first: boolean;
}) {
  const more = counts.reduce((sum, c) => sum + c.count, 0) - changes.length;
  return (
    <details className="border-2 border-edge bg-card p-3" open={!first}>
      <summary className="min-h-8 cursor-pointer font-bold">
        {changes.length === 0
          ? 'Nothing would change'
          : `What would change: ${counts.map((c) => `${c.count} in ${c.list}`).join(', ')}`}
      </summary>
      <Scroll label="All changes" className="mt-2 max-h-96">
        <ul aria-label="Changes">
          {changes.map((c, i) => (
            <li key={i} className="grid grid-cols-[7rem_1fr] gap-3 border-t border-line py-0.5">
              <span className="font-bold">{c.kind}</span>
              {c.sentence}
            </li>
          ))}
        </ul>
      </Scroll>
      {more > 0 && <p className="text-soft">and {more} more</p>}
    </details>
  );
}
