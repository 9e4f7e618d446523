import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { CaseBody } from './CaseBody';

/** Failing readings that seem to have one reason, before anybody has logged them as a fault. */
export function CasePanel({
  job,
  log,
  own,
}: {
  job: Schemas['JobView'];
  log: Schemas['FaultsView'];
  own: Schemas['CaseView'];
}) {
  const client = useQueryClient();
  const [, setSearch] = useSearchParams();
  const [key] = useState(uuidv7);
  const first = own.steps[0];
  const logIt = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/runs/{id}/faults', {
          params: { path: { id: log.runId ?? 0 } },
          body: {
            key,
            step: first?.step ?? 0,
            seen: `${[...own.steps.map((s) => s.text), ...own.seen].slice(0, 3).join('; ') || 'Read beside the plan'}.`,
          },
        }),
      ),
    onSuccess: async (fault) => {
      await client.invalidateQueries({ queryKey: keys.faults(job.id) });
      setSearch((now) => {
        now.delete('case');
        now.set('fault', String(fault.number));
        return now;
      });
    },
  });
  return (
    <article className="space-y-5 border-2 border-edge bg-card p-5">
      <header className="flex flex-wrap items-start justify-between gap-4">
        <div>
          <h2 className="text-2xl font-bold">
            {own.steps.length === 0
              ? own.seen.length > 0
                ? 'What was seen is'
                : 'What was read beside the plan is'
              : own.steps.length === 1
                ? '1 reading is'
                : `${own.steps.length} readings are`}{' '}
            not as drawn
          </h2>
          <p className="text-soft">{first ? 'Not logged yet.' : 'Not logged yet. No step of the plan shows it.'}</p>
        </div>
        <Button changes kind="main" disabled={logIt.isPending} onClick={() => logIt.mutate()}>
          Log this fault
        </Button>
      </header>
      <ErrorNotice error={logIt.error} />
      <OddSteps job={job} steps={own.steps} />
      <Seen seen={own.seen} />
      <CaseBody log={log} own={own} fault={null} />
    </article>
  );
}

/** What was seen besides and is not as drawn. */
export function Seen({ seen }: { seen: string[] }) {
  if (seen.length === 0) return null;
  return (
    <ul className="space-y-1">
      {seen.slice(0, 6).map((s) => (
        <li key={s}>{s}.</li>
      ))}
      {seen.length > 6 && <li className="text-soft">and {seen.length - 6} more.</li>}
    </ul>
  );
}

/** The readings themselves, each with the way to its step. */
export function OddSteps({ job, steps }: { job: Schemas['JobView']; steps: Schemas['OddStepView'][] }) {
  return (
    <ul className="space-y-1">
      {steps.slice(0, 6).map((s) => (
        <li key={s.step}>
          <Link className="underline decoration-line" to={`/jobs/${job.id}/bench?step=${s.step}`}>
            Step {s.step}
          </Link>
          : {s.text}.
        </li>
      ))}
      {steps.length > 6 && <li className="text-soft">and {steps.length - 6} more.</li>}
    </ul>
  );
}
