import type { Schemas } from '../../api/client';
import { Key } from '../../ui/Controls';
import { MarkShape, markWords } from '../../ui/Verdict';

/** How far the run has come, what the last touch said, and how long the rest will take. */
export function ProgressBar({
  run,
  step,
  judged,
  onKeys,
}: {
  run: Schemas['RunView'];
  step: Schemas['StepView'];
  judged: { step: number; verdict: Schemas['Verdict']; text: string } | null;
  onKeys: () => void;
}) {
  const { done, total, failing, retests, left } = run.progress;
  return (
    <div>
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-1">
        <h2 className="text-2xl font-bold">
          Step {step.number} <span className="text-lg font-normal text-soft">of {total}</span>
        </h2>
        <span>
          <b>{done}</b> done, about <b>{left}</b> left
        </span>
        {failing > 0 && <span className="font-bold text-fail">{failing} failing</span>}
        {retests > 0 && <span className="font-bold text-doubt">{retests} to test again</span>}
        <span className="ml-auto flex items-center gap-2 text-soft" aria-live="polite">
          {judged && judged.step !== step.number && (
            <>
              <MarkShape mark={judged.verdict} size={14} /> step {judged.step}:{' '}
              {markWords[judged.verdict].toLowerCase()}, {judged.text}
            </>
          )}
          <button type="button" className="min-h-6 cursor-pointer" onClick={onKeys} aria-label="Keys of this page">
            <Key>?</Key>
          </button>
        </span>
      </div>
      <div
        className="mt-1 h-2 bg-well"
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
