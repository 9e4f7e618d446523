import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, ButtonLink, Input } from '../../ui/Controls';
import { ShopFrame } from '../../ui/ShopFrame';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { FirstHour } from './FirstHour';
import { stageSteps } from './stage';

/** The shop's jobs: what stage, what holds it, who has it, when it is promised. */
export function JobsPage() {
  const jobs = useInfiniteQuery({
    queryKey: keys.jobs,
    queryFn: ({ pageParam }) =>
      given(api.GET('/api/jobs', { params: { query: pageParam ? { before: pageParam } : {} } })),
    initialPageParam: null as number | null,
    getNextPageParam: (page) => page.next,
  });
  const [find, setFind] = useState('');
  const all = jobs.data?.pages.flatMap((p) => p.jobs) ?? [];
  const shown = all.filter((j) => words(j).includes(find.toLowerCase()));
  return (
    <ShopFrame title="Jobs" note="and what holds them">
      <div className="mx-auto w-full max-w-7xl space-y-4 p-5">
        <div className="flex flex-wrap items-center gap-4">
          <div className="w-80 max-w-full">
            <Input
              aria-label="Find a job"
              placeholder="Customer, machine, loom, person …"
              value={find}
              onChange={(e) => setFind(e.target.value)}
            />
          </div>
          <span className="text-soft">
            {shown.length} of {all.length} jobs
          </span>
          <span className="ml-auto">
            <ButtonLink changes kind="main" to="/jobs/new">
              New job
            </ButtonLink>
          </span>
        </div>
        <FirstHour />
        <ErrorNotice error={jobs.error} />
        {jobs.isPending && <Loading what="the jobs" />}
        {jobs.isSuccess && all.length === 0 && (
          <p className="border-2 border-dashed border-edge p-10 text-center text-lg">
            No job yet. Make the first one, and bring its loom in: any spreadsheet will do.
          </p>
        )}
        {shown.length > 0 && (
          <ul className="grid gap-3">
            {shown.map((job) => (
              <Row key={job.id} job={job} />
            ))}
          </ul>
        )}
        {jobs.hasNextPage && <Button onClick={() => void jobs.fetchNextPage()}>Older jobs</Button>}
      </div>
    </ShopFrame>
  );
}

const words = (j: Schemas['JobView']) =>
  [j.id, j.customer, j.machine, j.loom, j.revision, j.stageText, j.heldBy, j.assigned].join(' ').toLowerCase();

/** Leads to where work goes on. */
const entrance = (j: Schemas['JobView']) =>
  `/jobs/${j.id}/${j.stage === 'no-loom' ? 'import' : j.stage === 'released' || j.stage === 'overturned' || j.stage === 'ready-to-sign' ? 'handover' : j.stage === 'on-bench' ? 'bench' : 'loom'}`;

function Row({ job }: { job: Schemas['JobView'] }) {
  return (
    <li>
      <Link
        to={entrance(job)}
        className="grid grid-cols-[2.5rem_minmax(0,1fr)] items-center gap-x-4 gap-y-2 border-2 border-edge bg-card px-4 py-3 hover:border-copper sm:grid-cols-[2.5rem_repeat(2,minmax(0,1fr))] lg:grid-cols-[3rem_minmax(0,2.2fr)_minmax(0,1.3fr)_minmax(0,2fr)_minmax(0,1.2fr)_8rem]"
      >
        <span className="self-start font-mono text-2xl text-soft row-span-5 sm:row-span-3 lg:row-span-1 lg:self-center">
          {job.id}
        </span>
        <span className="min-w-0">
          <span className="block text-lg font-bold">{job.machine}</span>
          <span className="block truncate text-soft">{job.customer}</span>
        </span>
        <span>
          {job.loom ?? '—'}
          <span className="block text-sm text-soft">{job.revision && `revision ${job.revision}`}</span>
        </span>
        <span>
          <StageLine stage={job.stage} />
          <span className="block">{job.stageText}</span>
          {job.heldBy && (
            <span className={`block font-bold ${job.stage === 'overturned' ? 'text-fail' : 'text-doubt'}`}>
              {job.heldBy}
            </span>
          )}
        </span>
        <span>
          <span className="block text-sm text-soft">with</span>
          {job.assigned ?? 'nobody yet'}
        </span>
        <span className={job.late ? 'font-bold text-fail' : ''}>
          <span className="block text-sm font-normal text-soft">
            {job.stage === 'released' ? 'was promised' : 'promised'}
          </span>
          {job.promised ?? 'no date'}
          {job.late && <span className="block">late</span>}
        </span>
      </Link>
    </li>
  );
}

/** Four clips on a piece of loom: as many closed as stages are done. */
function StageLine({ stage }: { stage: Schemas['Stage'] }) {
  const done = stageSteps[stage];
  return (
    <svg width="128" height="16" viewBox="0 0 128 16" aria-hidden="true" className="mb-1">
      <line x1="4" x2="124" y1="8" y2="8" className="stroke-line" strokeWidth="4" />
      <line x1="4" x2={4 + done * 30} y1="8" y2="8" className="stroke-copper" strokeWidth="4" />
      {[0, 1, 2, 3, 4].map((n) => (
        <rect
          key={n}
          x={n * 30 + (n === 4 ? -2 : 0)}
          y="2"
          width="8"
          height="12"
          strokeWidth="2"
          className={n <= done ? 'fill-copper stroke-copper' : 'fill-card stroke-edge'}
        />
      ))}
    </svg>
  );
}
