import { Link, useSearchParams } from 'react-router';
import { useJob, useBench } from '../jobs/JobShell';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';
import { BenchRun } from './BenchRun';
import { StartRun } from './StartRun';

/** The bench: a plan to start, or the touch card of the step one stands at. */
export function BenchPage() {
  const { job, loom } = useJob();
  const bench = useBench(job.id);
  const [search, setSearch] = useSearchParams();
  const another = search.has('another');
  if (!loom) {
    return (
      <div className="p-6">
        <Notice tone="mind">
          This job has no loom yet.{' '}
          <Link className="underline" to={`/jobs/${job.id}/import`}>
            Import its loom file
          </Link>{' '}
          first.
        </Notice>
      </div>
    );
  }

  if (!bench.data) return bench.isError ? <ErrorNotice error={bench.error} /> : <Loading what="the bench" />;
  return bench.data.run && !another ? (
    <BenchRun
      key={bench.data.run.id}
      job={job}
      loom={loom}
      run={bench.data.run}
      loadCautions={bench.data.loadCautions}
    />
  ) : (
    <StartRun job={job} bench={bench.data} loomName={loom.name} onStarted={() => setSearch({}, { replace: true })} />
  );
}
