import type { ReactNode } from 'react';
import type { Schemas } from '../../api/client';

type Cause = Schemas['CauseView'];

/** What may be behind a failing step, the likeliest first, each with its share. */
export function CauseList({
  causes,
  most,
  chosen,
  onChoose,
  action,
}: {
  causes: Cause[];
  most: number;
  chosen?: Cause | undefined;
  onChoose?: (cause: Cause) => void;
  action?: ((cause: Cause) => ReactNode) | undefined;
}) {
  if (causes.length === 0)
    return (
      <p className="text-soft">
        The readings so far point to no fault of the loom. Measure the step again, look at both ends, and measure the
        neighbours.
      </p>
    );
  return (
    <ol className="max-w-4xl space-y-2">
      {causes.slice(0, most).map((c, i) => (
        <li
          key={`${i} ${c.title}`}
          className={`border-l-8 bg-card px-3 py-2 ${c === (chosen ?? causes[0]) ? 'border-copper' : 'border-line'}`}
        >
          <div className="flex items-start gap-3">
            {c.probability !== null && <Share of={c.probability} />}
            {onChoose ? (
              <button
                type="button"
                className="flex-1 cursor-pointer text-left font-bold underline decoration-line"
                onClick={() => onChoose(c)}
              >
                {c.title}
              </button>
            ) : (
              <p className="flex-1 font-bold">{c.title}</p>
            )}
            {action?.(c)}
          </div>
          <p>{c.sentence}</p>
        </li>
      ))}
    </ol>
  );
}

/** A share as a number and as a bar. */
function Share({ of }: { of: number }) {
  return (
    <span className="w-20 shrink-0">
      <span className="block font-mono text-xl leading-none font-bold">{percent(of)}</span>
      <svg viewBox="0 0 80 6" className="mt-1 block h-1.5 w-full" aria-hidden="true">
        <rect width="80" height="6" className="fill-well" />
        <rect width={Math.max(1, 80 * of)} height="6" className="fill-copper" />
      </svg>
    </span>
  );
}

/** A share in words that do not say more than is known. */
export const percent = (share: number) =>
  share > 0.995 ? '> 99 %' : share < 0.01 ? '< 1 %' : `${(share * 100).toFixed(0)} %`;
