import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { ButtonLink, Field, Select } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';
import { Scroll } from '../../ui/Scroll';

const states: Record<string, string> = { released: 'released', superseded: 'superseded' };

/** Every revision of the job’s loom: what it was, what changed, what was measured on it, and its files. */
export function RevisionsPage() {
  const { job } = useJob();
  const revisions = useQuery({
    queryKey: keys.revisions(job.id, job.revisionId),
    queryFn: () => given(api.GET('/api/jobs/{id}/revisions', { params: { path: { id: job.id } } })),
  });
  const draft = useQuery({
    queryKey: keys.draftNote(job.id),
    queryFn: () => given(api.GET('/api/jobs/{id}/draft', { params: { path: { id: job.id } } })),
  });
  const all = revisions.data ?? [];
  return (
    <div className="mx-auto w-full max-w-7xl space-y-5 p-5">
      <div className="flex flex-wrap items-center gap-4">
        <h2 className="text-2xl font-bold">Revisions</h2>
        <span className="ml-auto flex gap-3">
          <ButtonLink changes kind="main" to={`/jobs/${job.id}/draft`}>
            {draft.data?.open ? 'Go on with the draft' : 'Rework in a draft'}
          </ButtonLink>
          <ButtonLink to={`/jobs/${job.id}/import`}>Bring a file in</ButtonLink>
        </span>
      </div>
      <ErrorNotice error={revisions.error} />
      {revisions.isPending && <Loading what="the revisions" />}
      {draft.data?.open && (
        <p className="border-2 border-dashed border-copper bg-card px-4 py-3">
          <b>Draft</b>, version {draft.data.open.version}, last changed by {draft.data.open.changedBy}:{' '}
          {draft.data.open.problems.length === 0 ? 'ready for release' : `${draft.data.open.problems.length} problems`}.
        </p>
      )}
      <ul className="grid gap-3">
        {all.map((r) => (
          <li
            key={r.id}
            className={`border-2 bg-card px-4 py-3 ${r.state === 'released' ? 'border-copper' : 'border-edge'}`}
          >
            <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
              <span className="font-mono text-2xl font-bold">{r.revision}</span>
              <span className="text-lg">{r.name}</span>
              <span className={r.state === 'released' ? 'font-bold text-copper' : 'text-soft'}>{states[r.state]}</span>
              <span className="text-soft">
                {r.by}, {r.at.slice(0, 10)}
                {r.from && `, reworked from ${r.from}`}
              </span>
              <span>{r.bench}</span>
            </div>
            <Files revision={r} />
          </li>
        ))}
      </ul>
      {all.length > 1 && <Between revisions={all} />}
    </div>
  );
}

function Files({ revision: r }: { revision: Schemas['RevisionView'] }) {
  const files: [string, string][] = [
    ['loom file', `/api/revisions/${r.id}/file`],
    ['workbook (XLSX)', `/api/revisions/${r.id}/tables.xlsx`],
    ['CSV set', `/api/revisions/${r.id}/tables.zip`],
    ['stem (SVG)', `/api/revisions/${r.id}/stem.svg`],
  ];
  return (
    <p className="mt-1 flex flex-wrap gap-x-5 text-sm">
      {files.map(([label, href]) => (
        <a
          key={label}
          className="inline-flex min-h-8 items-center underline"
          href={href}
          download={label === 'loom file' ? `${r.name} ${r.revision}.json` : ''}
        >
          {label}
        </a>
      ))}
    </p>
  );
}

function Between({ revisions }: { revisions: readonly Schemas['RevisionView'][] }) {
  const [before, setBefore] = useState(revisions[1]?.id ?? 0);
  const [after, setAfter] = useState(revisions[0]?.id ?? 0);
  const changes = useQuery({
    queryKey: keys.changes(before, after),
    queryFn: () =>
      given(api.GET('/api/revisions/{id}/changes', { params: { path: { id: after }, query: { since: before } } })),
    staleTime: Infinity,
  });
  const choose = (label: string, value: number, set: (id: number) => void) => (
    <div className="w-60">
      <Field label={label}>
        <Select value={value} onChange={(e) => set(Number(e.target.value))}>
          {revisions.map((r) => (
            <option key={r.id} value={r.id}>
              {r.revision}, {r.at.slice(0, 10)}
            </option>
          ))}
        </Select>
      </Field>
    </div>
  );
  return (
    <section aria-label="Changes between two revisions" className="space-y-3">
      <div className="flex flex-wrap items-end gap-4">
        {choose('Changes from', before, setBefore)}
        {choose('to', after, setAfter)}
        <Link
          className="inline-flex min-h-11 items-center underline"
          to={`/compare?left=revision-${before}&right=revision-${after}`}
        >
          lay their pinouts side by side
        </Link>
      </div>
      <ErrorNotice error={changes.error} />
      {changes.data && (
        <>
          <p className="text-soft">
            {changes.data.count === 0
              ? 'Nothing differs.'
              : `${changes.data.count} changes${changes.data.count > changes.data.changes.length ? `; the first ${changes.data.changes.length} are shown` : ''}.`}
          </p>
          <Scroll label="All changes" className="max-h-[30rem] border-2 border-edge bg-card">
            <ul aria-label="Changes">
              {changes.data.changes.map((c, i) => (
                <li key={i} className="grid grid-cols-[7rem_1fr] gap-3 border-b border-line px-3 py-1">
                  <span className="font-bold">{c.kind}</span>
                  {c.sentence}
                </li>
              ))}
            </ul>
          </Scroll>
        </>
      )}
    </section>
  );
}
