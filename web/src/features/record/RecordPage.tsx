import { Link } from 'react-router';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { useMayChange } from '../../ui/mayChange';
import { useBench, useJob } from '../jobs/JobShell';
import { BringIn } from './BringIn';
import { FillIn } from './FillIn';
import { PairLife } from './PairLife';

const files = [
  { ending: 'record.pdf', name: 'Paper (PDF)', text: 'every step with every reading, checks of the meter, faults' },
  { ending: 'readings.csv', name: 'Readings (CSV)', text: 'a row for each reading; another bench can bring it in' },
  { ending: 'results.xlsx', name: 'Results (XLSX)', text: 'wires, a pinout for each connector, cross tables' },
  { ending: 'results.zip', name: 'The same (CSV)', text: 'a file for each table' },
  { ending: 'faults.csv', name: 'Faults (CSV)', text: 'a row for each fault' },
  { ending: 'record.json', name: 'All of it (JSON)', text: 'for other programs' },
];

/** The run as files, readings of another bench, and what the shop has ever read between two places. */
export function RecordPage() {
  const { job, at } = useJob();
  const bench = useBench(job.id);
  const mayChange = useMayChange();
  if (bench.isError) return <ErrorNotice error={bench.error} />;
  if (!bench.data) return <Loading what="the run" />;
  const { run } = bench.data;
  if (!run) {
    return (
      <p className="m-6 border-2 border-dashed border-edge p-6 text-lg">
        There is nothing to tell yet: this loom has not been on the bench.{' '}
        <Link className="underline" to={`/jobs/${job.id}/bench`}>
          To the bench
        </Link>
      </p>
    );
  }
  return (
    <div className="grid items-start gap-8 p-5 lg:grid-cols-[24rem_1fr]">
      <div className="space-y-8">
        <section aria-labelledby="files">
          <h2 id="files" className="mb-2 text-2xl font-bold">
            The run as files
          </h2>
          <ul className="space-y-2">
            {files.map((f) => (
              <li key={f.ending}>
                <a
                  className="block min-h-11 border-2 border-edge bg-card p-3 hover:border-copper"
                  href={`/api/runs/${run.id}/${f.ending}`}
                  download
                >
                  <b className="underline">{f.name}</b>
                  <span className="block text-sm text-soft">{f.text}</span>
                </a>
              </li>
            ))}
          </ul>
        </section>
        <FillIn run={run.id} />
        {mayChange && <BringIn jobId={job.id} run={run} />}
      </div>
      <PairLife jobId={job.id} steps={run.steps} at={at} />
    </div>
  );
}
