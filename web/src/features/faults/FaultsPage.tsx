import { useQuery } from '@tanstack/react-query';
import { Link, useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';
import { FaultPanel } from './FaultPanel';
import { Holds } from './Holds';
import { stateWords } from './words';

/** The fault log of the job's run: what is open, what was done, what must be measured again. */
export function FaultsPage() {
  const { job, at } = useJob();
  const [search, setSearch] = useSearchParams();
  const log = useQuery({
    queryKey: keys.faults(job.id),
    queryFn: () => given(api.GET('/api/jobs/{id}/faults', { params: { path: { id: job.id } } })),
  });
  if (!log.data) return log.isError ? <ErrorNotice error={log.error} /> : <Loading what="the fault log" />;
  const faults = log.data.faults.filter((f) => !at || touches(f, at));
  const chosen =
    faults.find((f) => f.number === Number(search.get('fault'))) ??
    faults.find((f) => f.state !== 'proven') ??
    faults[0];
  return (
    <div className="grid flex-1 items-start gap-6 p-5 lg:grid-cols-[22rem_1fr]">
      <div className="space-y-5">
        <section aria-labelledby="log">
          <h2 id="log" className="mb-2 text-2xl font-bold">
            Faults{at && ` at ${at}`}
          </h2>
          {faults.length === 0 && (
            <p className="border-2 border-dashed border-edge p-5 text-soft">
              {log.data.runId
                ? 'None logged here. A fault is logged from a failing step at the bench, with F.'
                : 'The loom has not been on the bench.'}{' '}
              <Link className="underline" to={`/jobs/${job.id}/bench`}>
                To the bench
              </Link>
            </p>
          )}
          <ul className="space-y-2">
            {faults.map((f) => (
              <li key={f.number}>
                <button
                  type="button"
                  aria-current={f === chosen}
                  onClick={() =>
                    setSearch((now) => {
                      now.set('fault', String(f.number));
                      return now;
                    })
                  }
                  className={`w-full cursor-pointer border-2 bg-card p-3 text-left ${f === chosen ? 'border-copper' : 'border-edge'}`}
                >
                  <span className="flex justify-between gap-3">
                    <b>Fault {f.number}</b>
                    <StateWord state={f.state} />
                  </span>
                  <span className="block">{f.title}</span>
                </button>
              </li>
            ))}
          </ul>
        </section>
        {log.data.runId && <Holds job={job} holds={log.data.holds} />}
      </div>
      {chosen && log.data.runId && (
        <FaultPanel
          key={chosen.number}
          job={job}
          run={log.data.runId}
          fault={chosen}
          works={log.data.works}
          practice={log.data.practice}
        />
      )}
    </div>
  );
}

const touches = (f: Schemas['FaultView'], connector: string) =>
  [f.black, f.red, ...f.suggested.flatMap((c) => c.places), ...(f.fix?.places ?? [])].some(
    (p) => p?.split(':')[0] === connector,
  );

function StateWord({ state }: { state: Schemas['FaultState'] }) {
  return (
    <span className={state === 'proven' ? 'text-pass' : state === 'fixed' ? 'text-doubt' : 'font-bold text-fail'}>
      {stateWords[state]}
    </span>
  );
}
