import type { ReactNode } from 'react';
import { Refused } from '../api/client';
import { ProblemRows } from './ProblemRows';

/** Something that must be seen: what happened, what was kept, what to do. */
export function Notice({ tone, children }: { tone: 'wrong' | 'mind' | 'good'; children: ReactNode }) {
  const edge = { wrong: 'border-fail', mind: 'border-doubt', good: 'border-pass' }[tone];
  return (
    <div role={tone === 'wrong' ? 'alert' : 'status'} className={`border-l-8 bg-card px-4 py-3 ${edge}`}>
      {children}
    </div>
  );
}

/** An error in the server's own words, with the place of each problem. */
export function ErrorNotice({ error }: { error: unknown }) {
  if (!error) return null;
  const refused = error instanceof Refused ? error : null;
  return (
    <Notice tone="wrong">
      <p className="font-bold">
        {refused ? refused.message : 'The server does not answer. What you entered is still here; try again.'}
      </p>
      {refused && refused.problems.length > 0 && <ProblemRows label="Problems" problems={refused.problems} />}
    </Notice>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-8 text-soft">
      Fetching {what} …
    </p>
  );
}
