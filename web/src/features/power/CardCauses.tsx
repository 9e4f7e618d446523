import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { percent } from '../faults/CauseList';
import type { Check } from './words';

/** What may be behind a check that failed, by everything that is known, and the way to its fault. */
export function CardCauses({ job, run, check }: { job: number; run: number; check: Check }) {
  const client = useQueryClient();
  const [key] = useState(uuidv7);
  const log = useQuery({
    queryKey: keys.faults(job),
    queryFn: () => given(api.GET('/api/jobs/{id}/faults', { params: { path: { id: job } } })),
  });
  const own = log.data?.cases.find((c) => c.checks.includes(check.id));
  const fault = log.data?.faults.find((f) => f.checks.includes(check.id) && f.state !== 'proven');
  const logIt = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/runs/{id}/faults', {
          params: { path: { id: run } },
          body: {
            key,
            step: 0,
            seen: `Power-up: ${check.do} ${check.answer?.said ?? ''}${check.answer?.note ? `. ${check.answer.note}` : ''}`.slice(
              0,
              900,
            ),
          },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.faults(job) }),
  });
  return (
    <section aria-labelledby="if-not" className="space-y-2 border-t-2 border-fail pt-3">
      <h4 id="if-not" className="text-xl font-bold">
        What may be behind it
      </h4>
      {log.isPending && <p className="text-soft">Weighing what was seen …</p>}
      <ol className="space-y-1">
        {own?.causes.slice(0, 4).map((c) => (
          <li key={c.title} className="grid grid-cols-[4rem_1fr] gap-3">
            <span className="font-mono">{c.probability == null ? '' : percent(c.probability)}</span>
            <span>
              <b>{c.title}.</b> {c.sentence}
            </span>
          </li>
        ))}
        {check.ifNot.map((c) => (
          <li key={c} className="grid grid-cols-[4rem_1fr] gap-3">
            <span />
            <span>{c}</span>
          </li>
        ))}
      </ol>
      {fault ? (
        <Link className="underline" to={`/jobs/${job}/faults?fault=${fault.number}`}>
          Fault {fault.number} is logged: to its fix
        </Link>
      ) : (
        <div className="flex flex-wrap gap-3">
          <Button changes kind="main" disabled={logIt.isPending} onClick={() => logIt.mutate()}>
            Log this fault
          </Button>
          <Link className="self-center underline" to={`/jobs/${job}/faults`}>
            To the faults
          </Link>
        </div>
      )}
      <ErrorNotice error={logIt.error} />
    </section>
  );
}
