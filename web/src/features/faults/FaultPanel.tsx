import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button, ButtonLink, Input } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { MarkWord } from '../../ui/Verdict';
import { CaseBody } from './CaseBody';
import { OddSteps, Seen } from './CasePanel';
import { OwnSighting } from './OwnSighting';
import { CauseList } from './CauseList';
import { FixForm } from './FixForm';
import { stateWords } from './words';

interface Props {
  job: Schemas['JobView'];
  /** Number of the run that it was logged in. */
  run: number;
  fault: Schemas['FaultView'];
  log: Schemas['FaultsView'];
}

/** One fault from what was seen to proven closed, in the order in which it happens. */
export function FaultPanel({ job, run, fault, log }: Props) {
  const isOf = (c: Schemas['CaseView']) =>
    fault.step === 0 ? c.steps.length === 0 : c.steps.some((s) => s.step === fault.step);
  const own = fault.fix === null ? log.cases.find(isOf) : undefined;
  return (
    <article className="space-y-5 border-2 border-edge bg-card p-5">
      <header>
        <h2 className="text-2xl font-bold">
          Fault {fault.number}: {fault.title}
        </h2>
        <p className="text-soft">
          {stateWords[fault.state]} · logged by {fault.loggedBy} from{' '}
          {fault.step === 0 ? (
            'what was seen beside the plan'
          ) : (
            <Link className="underline" to={`/jobs/${job.id}/bench?step=${fault.step}`}>
              step {fault.step}
            </Link>
          )}
        </p>
      </header>
      <Stage number={1} title="What was seen">
        <p className="text-lg">{fault.seen}</p>
        {own && own.steps.length > 1 && <OddSteps job={job} steps={own.steps} />}
        {own && own.seen.length > 1 && <Seen seen={own.seen} />}
      </Stage>
      <Stage number={2} title="What it turned out to be">
        {fault.cause && <p className="mb-2 text-lg font-bold">{fault.cause.words}</p>}
        {fault.state !== 'proven' && !fault.fix && (
          <ChooseCause job={job} run={run} fault={fault} log={log} own={own} />
        )}
      </Stage>
      <Stage number={3} title="What was done">
        {fault.fix && (
          <p className="mb-3 text-lg">
            <b>{fault.fix.did}</b>: {fault.fix.places.join(', ')}
            {fault.fix.minutes !== null && `, ${fault.fix.minutes} min`}
            {fault.fix.parts && `, ${fault.fix.parts}`}
            {fault.fix.note && `. ${fault.fix.note}`} <span className="text-soft">by {fault.fixedBy}</span>
          </p>
        )}
        {fault.state !== 'proven' &&
          (fault.cause ? (
            <FixForm job={job} run={run} fault={fault} works={log.works} practice={log.remote} />
          ) : (
            <p className="text-soft">First say what it was.</p>
          ))}
      </Stage>
      <Stage number={4} title="Measured again">
        {fault.retests.length === 0 ? (
          <p className="text-soft">The fix decides which steps.</p>
        ) : (
          <Retests job={job} fault={fault} />
        )}
        {fault.fix && fault.sighted.length > 0 && (
          <div className="mt-3 space-y-2">
            <p>
              {fault.state === 'proven' ? 'Seen again, and right: ' : 'To be seen again, and right: '}
              {fault.sighted.join('; ')}.
            </p>
            {fault.state !== 'proven' && <OwnSighting job={job.id} run={run} lastEvent={log.lastEvent} />}
          </div>
        )}
      </Stage>
    </article>
  );
}

function Stage({ number, title, children }: { number: number; title: string; children: React.ReactNode }) {
  return (
    <section className="grid grid-cols-[2.2rem_1fr] gap-3 border-t border-line pt-4">
      <span className="h-8 border-2 border-copper text-center font-mono text-lg" aria-hidden="true">
        {number}
      </span>
      <div className="min-w-0">
        <h3 className="mb-1 text-sm text-soft">{title}</h3>
        {children}
      </div>
    </section>
  );
}

function ChooseCause({ job, run, fault, log, own }: Props & { own: Schemas['CaseView'] | undefined }) {
  const client = useQueryClient();
  const [words, setWords] = useState('');
  const tell = useMutation({
    mutationFn: (cause: { faults: Schemas['Fault'][]; words: string }) =>
      given(
        api.POST('/api/runs/{id}/faults/{fault}/cause', {
          params: { path: { id: run, fault: fault.number } },
          body: { key: uuidv7(), ...cause },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.faults(job.id) }),
  });
  const action = (c: Schemas['CauseView']) => (
    <Button changes disabled={tell.isPending} onClick={() => tell.mutate({ faults: c.faults, words: c.title })}>
      This is it
    </Button>
  );
  return (
    <div className="space-y-5">
      {own ? (
        <CaseBody log={log} own={own} fault={fault.number} action={action} />
      ) : (
        <CauseList causes={fault.suggested} most={4} action={action} />
      )}
      <form
        className="flex max-w-3xl flex-wrap gap-3 sm:flex-nowrap"
        onSubmit={(e) => {
          e.preventDefault();
          tell.mutate({ faults: [], words });
        }}
      >
        <Input
          aria-label="In your own words"
          placeholder="Something else, in your own words"
          value={words}
          onChange={(e) => setWords(e.target.value)}
          required
          maxLength={400}
        />
        <Button changes type="submit" disabled={tell.isPending} className="shrink-0">
          It was this
        </Button>
      </form>
      <ErrorNotice error={tell.error} />
    </div>
  );
}

function Retests({ job, fault }: { job: Schemas['JobView']; fault: Schemas['FaultView'] }) {
  const left = fault.retests.filter((r) => r.state === 'retest');
  const next = left[0];
  return (
    <div className="space-y-3">
      <p className="flex flex-wrap items-center gap-4">
        <span>
          {fault.retests.length - left.length} of {fault.retests.length} measured since the fix
        </span>
        {next && (
          <ButtonLink kind="main" to={`/jobs/${job.id}/bench?step=${next.step}`}>
            Measure the next
          </ButtonLink>
        )}
      </p>
      <ul className="grid gap-x-6 sm:grid-cols-2">
        {fault.retests.map((r) => (
          <li key={r.step} className="flex justify-between gap-3 border-b border-line py-1">
            <Link className="underline decoration-line" to={`/jobs/${job.id}/bench?step=${r.step}`}>
              {r.step}: {r.black} to {r.red ?? 'all others'}
            </Link>
            <MarkWord mark={r.state} />
          </li>
        ))}
      </ul>
    </div>
  );
}
