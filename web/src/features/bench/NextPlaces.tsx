import type { Schemas } from '../../api/client';
import { countedAt } from './places';

type Step = Schemas['StepView'];

/** What comes after this card: which probe goes where, and which stays. */
export function NextPlaces({
  step,
  next,
  loom,
  waiting,
  theirs,
  onPlan,
}: {
  step: Step;
  next: Step | null;
  loom: Schemas['LoomView'];
  /** How many steps wait for a connector that is not at hand. */
  waiting: number;
  /** How many steps are at connectors that somebody else took. */
  theirs: number;
  /** Opens the plan, where it is not beside the card. */
  onPlan: () => void;
}) {
  return (
    <div className="flex min-w-0 items-center gap-x-4 border-edge px-3 text-lg lg:border-l-2" data-testid="next">
      <p className="flex min-h-11 min-w-0 flex-1 flex-wrap items-center gap-x-4">
        <span className="text-soft">Next</span>
        {next?.subject ? (
          <b>{next.subject}</b>
        ) : next ? (
          <>
            <Place probe="Black" from={step.black} to={next.black} loom={loom} />
            <Place probe="Red" from={step.red} to={next.red} loom={loom} />
          </>
        ) : (
          <span>
            {theirs > 0
              ? `${theirs} steps are at connectors that others took`
              : waiting > 0
                ? `${waiting} steps wait for connectors that are not at hand`
                : 'nothing: this is the last step'}
          </span>
        )}
      </p>
      <button type="button" onClick={onPlan} className="min-h-11 cursor-pointer px-2 underline xl:hidden">
        Plan
      </button>
    </div>
  );
}

function Place({
  probe,
  from,
  to,
  loom,
}: {
  probe: string;
  from: string | null;
  to: string | null;
  loom: Schemas['LoomView'];
}) {
  return from === to ? (
    <span className="text-soft">{probe} stays</span>
  ) : (
    <span className="whitespace-nowrap">
      {probe} to <b className="font-mono">{to ?? 'the plug'}</b>
      <span className="max-sm:hidden"> {countedAt(to, loom)}</span>
    </span>
  );
}
