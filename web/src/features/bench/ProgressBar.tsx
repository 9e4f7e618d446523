import type { ReactNode } from 'react';
import type { Schemas } from '../../api/client';

/** How far the run has come, how long the rest will take, and the tools of the card. */
export function ProgressBar({
  run,
  step,
  children,
}: {
  run: Schemas['RunView'];
  step: Schemas['StepView'];
  children: ReactNode;
}) {
  const { done, total, failing, retests, left } = run.progress;
  return (
    <div>
      <div className="flex flex-wrap items-center gap-x-3">
        <h2 className="text-2xl font-bold whitespace-nowrap">
          Step {step.number} <span className="text-lg font-normal text-soft">of {total}</span>
        </h2>
        <span>
          <b>{done}</b> done, <b>{left}</b> left
        </span>
        {failing > 0 && <span className="font-bold text-fail">{failing} failing</span>}
        {retests > 0 && <span className="font-bold text-doubt">{retests} to test again</span>}
        <span className="ml-auto flex flex-wrap items-center">{children}</span>
      </div>
      <div
        className="h-2 bg-well"
        role="progressbar"
        aria-label="Steps done"
        aria-valuemin={0}
        aria-valuemax={total}
        aria-valuenow={done}
      >
        <div className="h-full bg-copper" style={{ width: `${(100 * done) / total}%` }} />
      </div>
    </div>
  );
}
