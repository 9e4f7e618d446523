import type { ReactNode } from 'react';
import type { Schemas } from '../../api/client';

type Cause = Schemas['CauseView'];

/** Causes that would explain a failing step, the best first. */
export function CauseList({
  causes,
  most,
  action,
}: {
  causes: Cause[];
  most: number;
  action?: (cause: Cause) => ReactNode;
}) {
  if (causes.length === 0)
    return (
      <p className="text-soft">No single fault explains this reading. Look at both ends, and measure the neighbours.</p>
    );
  return (
    <ol className="max-w-3xl space-y-2">
      {causes.slice(0, most).map((c, i) => (
        <li key={c.title} className={`border-l-4 bg-card px-3 py-2 ${i === 0 ? 'border-copper' : 'border-line'}`}>
          <div className="flex items-start justify-between gap-3">
            <p className="font-bold">{c.title}</p>
            {action?.(c)}
          </div>
          <p>{c.sentence}</p>
          <p className="text-sm text-soft">
            explains {c.explains} of {c.of} failing readings
            {c.against > 0 && `, ${c.against} ${c.against === 1 ? 'reading speaks' : 'readings speak'} against it`}
          </p>
        </li>
      ))}
    </ol>
  );
}
