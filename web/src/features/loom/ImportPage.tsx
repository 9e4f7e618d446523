import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type DragEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, given, sendFile, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';
import { Scroll } from '../../ui/Scroll';
import { ProblemRows } from '../../ui/ProblemRows';

/** Brings a file into a job: what it would change is shown first; it is taken whole, or every problem is listed at its place. */
export function ImportPage() {
  const { job } = useJob();
  const picker = useRef<HTMLInputElement>(null);
  const [name, setName] = useState('');
  const [over, setOver] = useState(false);
  const look = useMutation({
    mutationFn: (file: File) =>
      sendFile<Schemas['ImportPreview']>(
        `/api/jobs/${job.id}/import?${new URLSearchParams({ name: file.name }).toString()}`,
        file,
      ),
  });
  const take = (file: File | undefined) => {
    if (!file) return;
    setName(file.name);
    look.mutate(file);
    // The same file, mended, may be chosen again.
    if (picker.current) picker.current.value = '';
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files[0]);
  };
  return (
    <div className="mx-auto w-full max-w-5xl space-y-5 p-6">
      <h2 className="text-2xl font-bold">{job.revisionId ? 'Bring a file in' : 'Bring the loom in'}</h2>
      <div
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
        className={`border-4 border-dashed p-8 text-center ${over ? 'border-copper bg-card' : 'border-edge'}`}
      >
        <p className="mb-4 text-lg">Drop a loom file, a workbook or a table here, or choose one.</p>
        <input
          ref={picker}
          type="file"
          accept=".json,.xlsx,.csv,.zip,.tsv,.txt"
          className="sr-only"
          aria-label="Loom file"
          tabIndex={-1}
          onChange={(e) => take(e.target.files?.[0])}
        />
        <Button kind="main" onClick={() => picker.current?.click()} disabled={look.isPending}>
          Choose a file
        </Button>
        <p className="mt-4 text-soft">
          {look.isPending
            ? `Reading ${name} …`
            : 'JSON (wise-loom/loom), XLSX, CSV or a ZIP of CSV files, at most 8 MB. Nothing is stored by looking.'}
        </p>
      </div>
      {!look.data && (
        <p className="text-center">
          Or{' '}
          <Link className="underline" to={`/jobs/${job.id}/draft`}>
            enter it by hand
          </Link>
          , from the loom on the table or from pasted rows.
        </p>
      )}
      <ErrorNotice error={look.error} />
      {look.data && <Preview key={look.submittedAt} name={name} preview={look.data} />}
    </div>
  );
}

function Preview({ name, preview }: { name: string; preview: Schemas['ImportPreview'] }) {
  const { job } = useJob();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [revision, setRevision] = useState(preview.freeName ?? preview.revision ?? '');
  const sound = preview.document !== null && preview.problems.length === 0;
  const done = async (to: string) => {
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
      {sound && (
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
          <div className="flex flex-wrap gap-3">
            {preview.onlyDraft === null && (
              <Button changes kind="main" onClick={() => asRevision.mutate()} disabled={!sound || asRevision.isPending}>
                {job.revisionId ? 'Take it as a new revision' : 'Take it as the loom'}
              </Button>
            )}
            <Button onClick={() => asDraft.mutate()} disabled={asDraft.isPending}>
              Take it into a draft
            </Button>
          </div>
          {job.revisionId && (
            <p className="text-soft">
              Readings stay with the revision that they were taken on. The bench starts anew; what the change does not
              touch can be carried over.
            </p>
          )}
          <ErrorNotice error={asRevision.error ?? asDraft.error} />
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
