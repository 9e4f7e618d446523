import { useQuery } from '@tanstack/react-query';
import { Link, useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';
import { CasePanel } from './CasePanel';
import { percent } from './CauseList';
import { FaultPanel } from './FaultPanel';
import { Holds } from './Holds';
import { OwnSighting } from './OwnSighting';
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
  const cases = log.data.cases.filter((c) => c.fault === null && (!at || reaches(c, at)));
  const asked = search.get('case') ?? '';
  const own = cases.find((c) => String(firstStep(c)) === asked);
  const chosen = own
    ? undefined
    : (faults.find((f) => f.number === Number(search.get('fault'))) ??
      faults.find((f) => f.state !== 'proven') ??
      (cases.length > 0 ? undefined : faults[0]));
  const shown = chosen ? undefined : (own ?? cases[0]);
  const choose = (what: 'fault' | 'case', value: number) =>
    setSearch((now) => {
      now.delete('case');
      now.delete('fault');
      now.set(what, String(value));
      return now;
    });
  return (
    <div className="grid flex-1 items-start gap-6 p-5 lg:grid-cols-[22rem_1fr]">
      <div className="space-y-5">
        {cases.length > 0 && (
          <section aria-labelledby="cases">
            <h2 id="cases" className="mb-2 text-2xl font-bold">
              Not logged yet
            </h2>
            <ul className="space-y-2">
              {cases.map((c) => (
                <li key={firstStep(c)}>
                  <button
                    type="button"
                    aria-current={c === shown}
                    onClick={() => choose('case', firstStep(c))}
                    className={`w-full cursor-pointer border-2 bg-card p-3 text-left ${c === shown ? 'border-copper' : 'border-edge'}`}
                  >
                    <span className="flex justify-between gap-3">
                      <b>{howMany(c)}</b>
                      {c.causes[0]?.probability != null && (
                        <span className="font-mono">{percent(c.causes[0].probability)}</span>
                      )}
                    </span>
                    <span className="block">{c.causes[0]?.title ?? c.doubts[0]}</span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
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
                  onClick={() => choose('fault', f.number)}
                  className={`w-full cursor-pointer border-2 bg-card p-3 text-left ${f === chosen ? 'border-copper' : 'border-edge'}`}
                >
                  <span className="flex justify-between gap-3">
                    <b>Fault {f.number}</b>
                    <StateWord state={f.state} />
                  </span>
                  <span className="block">{f.title}</span>
                  {f.from && <span className="block text-soft">of run {f.from.run}, which was set aside</span>}
                  {f.letPass && <span className="block text-doubt">let pass by {f.letPass}</span>}
                </button>
              </li>
            ))}
          </ul>
        </section>
        {log.data.runId && (
          <Holds job={job} holds={log.data.holds} run={log.data.runId} lastEvent={log.data.lastEvent} />
        )}
        {log.data.runId && cases.length === 0 && !chosen?.sighted.length && (
          <OwnSighting job={job.id} run={log.data.runId} lastEvent={log.data.lastEvent} />
        )}
      </div>
      {chosen && log.data.runId && (
        <FaultPanel key={chosen.number} job={job} run={log.data.runId} fault={chosen} log={log.data} />
      )}
      {shown && <CasePanel key={firstStep(shown)} job={job} log={log.data} own={shown} />}
    </div>
  );
}

/** A case is named by its first step; 0 for one that only readings beside the plan show. */
const firstStep = (c: Schemas['CaseView']) => c.steps[0]?.step ?? 0;

const howMany = ({ steps, seen }: Schemas['CaseView']) =>
  steps.length === 0
    ? seen.length > 0
      ? 'Seen'
      : 'Read beside the plan'
    : steps.length === 1
      ? '1 failing reading'
      : `${steps.length} failing readings`;

const reaches = (c: Schemas['CaseView'], connector: string) =>
  [...c.steps.flatMap((s) => [s.black, s.red]), ...(c.causes[0]?.places ?? [])].some(
    (p) => p?.split(':')[0] === connector,
  );

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
