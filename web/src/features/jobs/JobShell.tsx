import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { Link, Outlet, useLocation, useMatch, useOutletContext, useParams, useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { jobPages } from '../../pages';
import { Frame } from '../../ui/Frame';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Stem, type Badge } from '../../ui/Stem';
import { useLiveJob } from './useLiveJob';
import type { Mark } from '../../ui/Verdict';

interface JobContext {
  job: Schemas['JobView'];
  loom: Schemas['LoomView'] | null;
  /** The connector that the page is narrowed to. */
  at: string | null;
  /** Rings connectors on the stem that the page is working on. */
  point: (connectors: readonly string[]) => void;
  /** Draws on the stem what the page knows of each connector, and ways of a current; null for what the bench knows. */
  draw: (drawn: Drawn | null) => void;
}

/** What a page draws on the stem. */
export interface Drawn {
  badges: ReadonlyMap<string, Badge>;
  paths: readonly (readonly string[])[];
}

/** The job that the page is about. */
export const useJob = () => useOutletContext<JobContext>();

export function useBench(job: number) {
  return useQuery({
    // A whole plan is not compared step by step for each reading: what has not changed is kept as it is where it is laid over.
    structuralSharing: false,
    queryKey: keys.bench(job),
    queryFn: () => given(api.GET('/api/jobs/{id}/bench', { params: { path: { id: job } } })),
  });
}

/** Frame of every page of a job: its head, its pages, its stem; looks again when anybody changes the job. */
export function JobShell() {
  const id = Number(useParams().id);
  return <Shell key={id} id={id} />;
}

function Shell({ id }: { id: number }) {
  const [search, setSearch] = useSearchParams();
  const [pointed, setPointed] = useState<readonly string[]>([]);
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const job = useQuery({
    queryKey: keys.job(id),
    queryFn: () => given(api.GET('/api/jobs/{id}', { params: { path: { id } } })),
  });
  const revision = job.data?.revisionId;
  const loom = useQuery({
    queryKey: keys.loom(revision),
    queryFn: () => given(api.GET('/api/revisions/{id}/loom', { params: { path: { id: revision ?? 0 } } })),
    enabled: Boolean(revision),
    staleTime: Infinity,
    // What somebody is at stays in sight while a newer revision is fetched.
    placeholderData: keepPreviousData,
  });
  const bench = useBench(id);
  const drafting = useMatch('/jobs/:id/draft') !== null;
  const part = useLocation().pathname.split('/')[3] ?? '';
  const page = jobPages.find((p) => p.path === part) ?? jobPages[0];
  const measuring = useMatch('/jobs/:id/bench') !== null;
  const reading = useMatch('/jobs/:id/matrix') !== null;
  const fitted = drafting || ((measuring || reading) && Boolean(bench.data?.run));
  useLiveJob(id);

  const titles = useMemo(() => new Map(loom.data?.connectors.map((c) => [c.ref, c.title])), [loom.data]);
  const marks = useMemo(
    () => new Map<string, Mark>(bench.data?.run?.connectors.map((c) => [c.ref, c.state])),
    [bench.data],
  );
  const at = search.get('at');
  const chosen = useMemo(() => (at ? [at, ...pointed] : pointed), [at, pointed]);
  const choose = useCallback(
    (connector: string | null) =>
      setSearch((now) => {
        if (connector) now.set('at', connector);
        else now.delete('at');
        return now;
      }),
    [setSearch],
  );
  const context = useMemo(
    () =>
      job.data &&
      ({ job: job.data, loom: loom.data ?? null, at, point: setPointed, draw: setDrawn } satisfies JobContext),
    [job.data, loom.data, at],
  );
  // A page that is there stays when looking again fails: somebody may be typing in it.
  if (job.isLoadingError) {
    return (
      <Frame title="Job">
        <div className="p-6">
          <ErrorNotice error={job.error} />
        </div>
      </Frame>
    );
  }

  const tabs = jobPages.flatMap((p) =>
    p.label ? [{ to: `/jobs/${id}/${p.path}`, label: p.label, here: (page?.under ?? page?.path) === p.path }] : [],
  );
  // A draft shows its own stem, which follows every change.
  const stem = loom.data && !drafting && (
    <Stem
      stem={loom.data.stem}
      titles={titles}
      marks={marks}
      chosen={chosen}
      onChoose={choose}
      badges={drawn?.badges}
      paths={drawn?.paths}
    />
  );
  const waits = Boolean(revision) && !loom.data;
  return (
    <Frame
      title={job.data?.machine ?? 'Job'}
      where={[page?.title, at].filter(Boolean).join(' ')}
      note={job.data && <Note job={job.data} />}
      tabs={tabs}
      stem={stem}
      fitted={fitted}
    >
      <ErrorNotice error={loom.error} />
      {(job.isPending || (waits && !loom.isError)) && <Loading what="the job" />}
      {context && !waits && <Outlet context={context} />}
    </Frame>
  );
}

function Note({ job }: { job: Schemas['JobView'] }) {
  return (
    <>
      {job.loom ? `${job.loom} ${job.revision ?? ''}, ` : ''}job {job.id} ·{' '}
      <Link to={`/jobs/${job.id}/edit`} className="underline">
        change
      </Link>
    </>
  );
}
