import { useState } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../../api/client';
import { Button } from '../../ui/Controls';
import { useSession } from '../session/useSession';
import { LetPassSheet } from './LetPassSheet';

type Hold = Schemas['HoldView'];

/** What keeps the loom from release, each with the way to it, and the way past it: a lead decides, a technician proposes. */
export function Holds({
  job,
  holds,
  run,
  lastEvent,
}: {
  job: Schemas['JobView'];
  holds: Hold[];
  run: number | null;
  lastEvent: number;
}) {
  const { data: session } = useSession();
  const [chosen, setChosen] = useState<Hold | null>(null);
  const lead = session?.person?.role === 'lead';
  return (
    <section
      aria-labelledby="holds"
      className={`border-l-8 bg-card p-4 ${holds.length > 0 ? 'border-doubt' : 'border-pass'}`}
    >
      <h2 id="holds" className="mb-1 text-lg font-bold">
        {holds.length > 0 ? 'Not to be released yet' : 'Nothing stands against release'}
      </h2>
      <ul className="space-y-3">
        {holds.map((h) => (
          <li key={h.on ?? h.text}>
            {h.text}{' '}
            {h.fault !== null && (
              <Link className="underline" to={`/jobs/${job.id}/faults?fault=${h.fault}`}>
                Fault {h.fault}
              </Link>
            )}
            {h.steps.length > 0 && (
              <Link className="underline" to={`/jobs/${job.id}/bench?step=${h.steps[0] ?? 1}`}>
                Step {h.steps.slice(0, 8).join(', ')}
                {h.steps.length > 8 && ' …'}
              </Link>
            )}
            {h.kind === 'power-up' && h.on === null && (
              <Link className="underline" to={`/jobs/${job.id}/power-up`}>
                To the power-up
              </Link>
            )}
            {h.proposal && <p className="text-doubt">{h.proposal}</p>}
            {h.on !== null && run !== null && (
              <p className="mt-1">
                <Button changes onClick={() => setChosen(h)}>
                  {lead ? 'Let it pass, with a reason' : 'Propose to let it pass'}
                </Button>
              </p>
            )}
          </li>
        ))}
      </ul>
      {chosen && run !== null && (
        <LetPassSheet
          job={job.id}
          run={run}
          hold={chosen}
          lastEvent={lastEvent}
          lead={lead}
          onClose={() => setChosen(null)}
        />
      )}
    </section>
  );
}
