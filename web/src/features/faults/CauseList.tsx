import type { ReactNode } from 'react';
import type { Schemas } from '../../api/client';

type Cause = Schemas['CauseView'];

/** What may be behind a failing step, the likeliest first, each with its share; the one that is chosen says why. */
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
    <ol className="max-w-4xl border-b border-line">
      {causes.slice(0, most).map((c, i) => {
        const here = c === (chosen ?? causes[0]);
        return (
          <li
            key={`${i} ${c.title}`}
            className={`border-t border-l-8 border-t-line bg-card px-3 py-2 ${here ? 'border-l-copper' : 'border-l-line'}`}
          >
            <div className="flex items-center gap-3">
              {c.probability !== null && <Share of={c.probability} />}
              {onChoose && !here ? (
                <button
                  type="button"
                  className="min-h-11 flex-1 cursor-pointer text-left underline decoration-line"
                  onClick={() => onChoose(c)}
                >
                  {c.title}
                </button>
              ) : (
                <p className={`flex-1 ${here ? 'text-lg font-bold' : ''}`}>{c.title}</p>
              )}
            </div>
            {here && <p className="mt-1">{c.sentence}</p>}
            {(here || !onChoose) && action && <p className="mt-2">{action(c)}</p>}
          </li>
        );
      })}
    </ol>
  );
}

/** A share as a number and as a bar. */
function Share({ of }: { of: number }) {
  return (
    <span className="w-20 shrink-0">
      <span className="block font-mono text-xl leading-none font-bold whitespace-nowrap">{percent(of)}</span>
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
