import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type DragEvent, type ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, given, sendFile, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';
import { IntakePreview, type Mapping } from './IntakePreview';
import { Scroll } from '../../ui/Scroll';
import { ProblemRows } from '../../ui/ProblemRows';

/** What the server is asked about a file: as it is, or with what somebody said of its columns. */
interface Asked {
  file: File;
  mapping?: Mapping;
  connector?: string;
}

/** Brings a file into a job: what it would change is shown first; it is taken whole, or every problem is listed at its place. */
export function ImportPage() {
  const { job } = useJob();
  const picker = useRef<HTMLInputElement>(null);
  const [name, setName] = useState('');
  const [over, setOver] = useState(false);
  // What was shown stays until the next answer is there: the tables do not jump away under the hand.
  const [shown, setShown] = useState<{ at: number; preview: Schemas['ImportPreview'] } | null>(null);
  const [asked, setAsked] = useState<Asked | null>(null);
  const look = useMutation({
    mutationFn: ({ file, mapping, connector }: Asked) =>
      sendFile<Schemas['ImportPreview']>(
        `/api/jobs/${job.id}/import?${new URLSearchParams({
          name: file.name,
          ...(mapping ? { mapping: JSON.stringify({ columns: mapping }) } : {}),
          ...(connector ? { connector } : {}),
        }).toString()}`,
        file,
      ),
    onSuccess: (preview) => setShown((before) => ({ at: before?.at ?? Date.now(), preview })),
  });
  const again = (of: Asked) => {
    setAsked(of);
    look.mutate(of);
  };
  const take = (file: File | undefined) => {
    if (!file) return;
    setName(file.name);
    setShown(null);
    again({ file });
    // The same file, mended, may be chosen again.
    if (picker.current) picker.current.value = '';
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files[0]);
  };
  return (
    <div className={`mx-auto w-full space-y-5 p-6 ${shown?.preview.intake ? 'max-w-7xl' : 'max-w-5xl'}`}>
      <h2 className="text-2xl font-bold">{job.revisionId ? 'Bring a file in' : 'Bring the loom in'}</h2>
      <div
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
        className={`border-4 border-dashed text-center ${shown ? 'p-3' : 'p-8'} ${over ? 'border-copper bg-card' : 'border-edge'}`}
      >
        <p className={shown ? 'sr-only' : 'mb-4 text-lg'}>
          Drop any table of wires or pins here, a workbook, or a loom file, or choose one.
        </p>
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
          {shown ? 'Choose another file' : 'Choose a file'}
        </Button>
        <p className={shown && !look.isPending ? 'sr-only' : 'mt-4 text-soft'}>
          {look.isPending
            ? `Reading ${name} …`
            : 'A wire list, a pinout for each connector or a cross table in any order of columns: XLSX, CSV or text. A loom file: JSON, XLSX, CSV or a ZIP of CSV files. At most 8 MB. Nothing is stored by looking.'}
        </p>
      </div>
      {!shown && (
        <p className="text-center">
          Or{' '}
          <Link className="underline" to={`/jobs/${job.id}/draft`}>
            enter it by hand
          </Link>
          , from the loom on the table or from pasted rows.
        </p>
      )}
      <ErrorNotice error={look.error} />
      {shown && (
        <Preview key={shown.at} name={name} preview={shown.preview}>
          {asked && shown.preview.intake && (
            <IntakePreview
              intake={shown.preview.intake}
              mapping={asked.mapping ?? {}}
              busy={look.isPending}
              onMap={(mapping) => again({ ...asked, mapping })}
              onName={(connector) => again({ ...asked, connector })}
            />
          )}
          {asked && !shown.preview.intake && shown.preview.problems.length > 0 && (
            <p>
              Is it a table of somebody else’s?{' '}
              <button type="button" className="underline" onClick={() => again({ ...asked, mapping: {} })}>
                Read it as any table
              </button>
            </p>
          )}
        </Preview>
      )}
    </div>
  );
}

function Preview({
  name,
  preview,
  children,
}: {
  name: string;
  preview: Schemas['ImportPreview'];
  children: ReactNode;
}) {
  const { job } = useJob();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [revision, setRevision] = useState(preview.freeName ?? preview.revision ?? '');
  const sound =
    preview.document !== null && preview.problems.length === 0 && (preview.intake === null || preview.intake.wires > 0);
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
