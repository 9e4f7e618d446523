import { Link } from 'react-router';
import type { Schemas } from '../../api/client';

/** What keeps the loom from release, each with the way to it. */
export function Holds({ job, holds }: { job: Schemas['JobView']; holds: Schemas['HoldView'][] }) {
  return (
    <section
      aria-labelledby="holds"
      className={`border-l-8 bg-card p-4 ${holds.length > 0 ? 'border-doubt' : 'border-pass'}`}
    >
      <h2 id="holds" className="mb-1 text-lg font-bold">
        {holds.length > 0 ? 'Not to be released yet' : 'Nothing stands against release'}
      </h2>
      <ul className="space-y-1">
        {holds.map((h) => (
          <li key={h.text}>
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
          </li>
        ))}
      </ul>
    </section>
  );
}
