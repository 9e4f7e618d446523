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

/** What is coming, drawn as bars where it will stand. */
export function Loading({ what }: { what: string }) {
  return (
    <div className="space-y-3 p-6">
      <p role="status" className="text-soft">
        Fetching {what} …
      </p>
      <div aria-hidden="true" className="max-w-4xl space-y-3 motion-safe:animate-pulse">
        <div className="h-8 w-2/5 bg-well" />
        {[100, 92, 97, 60].map((width) => (
          <div key={width} className="h-5 bg-well" style={{ width: `${width}%` }} />
        ))}
        <div className="h-28 bg-well" />
      </div>
    </div>
  );
}
