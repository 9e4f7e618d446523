import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { useSession } from '../session/useSession';

/** What a new shop does first: five lines that lead there and are ticked by themselves, until somebody puts them away. */
export function FirstHour() {
  const client = useQueryClient();
  const session = useSession();
  const hour = useQuery({ queryKey: keys.firstHour, queryFn: () => given(api.GET('/api/first-hour')) });
  const putAway = useMutation({
    mutationFn: () => given(api.PUT('/api/first-hour', { body: { putAway: true } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.firstHour }),
  });
  if (!hour.data?.shown) return null;
  const next = hour.data.steps.findIndex((s) => !s.isDone);
  const isLead = session.data?.person?.role === 'lead';
  return (
    <section aria-label="The first hour" className="space-y-3 border-2 border-copper bg-card p-5">
      <h2 className="text-2xl font-bold">The first hour</h2>
      <ol className="space-y-1">
        {hour.data.steps.map((step, i) => (
          <li key={step.title} className="grid grid-cols-[2.5rem_1fr] items-baseline gap-x-2 border-t border-line py-2">
            <span aria-hidden="true" className={`text-xl ${step.isDone ? 'text-pass' : 'text-soft'}`}>
              {step.isDone ? '✓' : i + 1}
            </span>
            <span>
              {step.isLeads && !isLead ? (
                <b className="text-lg">{step.title}</b>
              ) : (
                <Link to={step.to} className={`text-lg font-bold underline ${i === next ? 'text-copper' : ''}`}>
                  {step.title}
                </Link>
              )}
              <span className="sr-only">{step.isDone ? ', done' : ', not done yet'}</span>{' '}
              <span className="text-soft">
                {step.hint}
                {step.isLeads && !isLead && ' A lead does this.'}
              </span>
            </span>
          </li>
        ))}
      </ol>
      <p className="text-soft">
        {hour.data.practice ? (
          <>
            To practise first:{' '}
            <a className="underline" href={hour.data.practice} target="_blank" rel="noreferrer">
              the practice shop
            </a>{' '}
            has looms with hidden faults and meters that read them. It keeps its data to itself; it is there once{' '}
            <code className="font-mono">./wise-loom practice</code> runs.
          </>
        ) : (
          <>
            To practise first: <code className="font-mono">./wise-loom practice</code> opens a shop of its own, with
            looms that have hidden faults and meters that read them.
          </>
        )}
      </p>
      <Button changes onClick={() => putAway.mutate()}>
        Put this list away
      </Button>
      <ErrorNotice error={putAway.error} />
    </section>
  );
}
