import { useEffect, useRef } from 'react';
import type { Schemas } from '../../api/client';
import { MarkShape, markWords } from '../../ui/Verdict';

/** The plan; narrowed to one connector when its tag is chosen. */
export function StepList({
  run,
  at,
  here,
  onGoTo,
}: {
  run: Schemas['RunView'];
  at: string | null;
  here: number;
  onGoTo: (step: number) => void;
}) {
  const current = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    // In newer browsers this returns a promise, which an effect must not return.
    current.current?.scrollIntoView({ block: 'nearest' });
  }, [here, at]);
  const steps = at ? run.steps.filter((s) => [s.black, s.red].some((p) => p?.split(':')[0] === at)) : run.steps;
  return (
    <section aria-label="Steps" className="hidden w-64 shrink-0 flex-col border-l-2 border-edge xl:flex">
      <h2 className="border-b border-line px-3 py-2 font-bold">
        Plan{at && `, ${at} only`} <span className="font-normal text-soft">{steps.length} steps</span>
      </h2>
      <ol className="h-0 grow overflow-y-auto">
        {steps.map((s) => (
          <li key={s.number}>
            <button
              ref={s.number === here ? current : undefined}
              type="button"
              aria-current={s.number === here ? 'step' : undefined}
              onClick={() => onGoTo(s.number)}
              className={`flex min-h-8 w-full cursor-pointer items-center gap-2 px-3 text-left text-sm ${s.number === here ? 'bg-copper text-on-copper' : 'hover:bg-card'}`}
            >
              <span
                className={`flex size-5 items-center justify-center rounded-full ${s.number === here ? 'bg-card' : ''}`}
              >
                <MarkShape mark={s.state} size={13} />
              </span>
              <span className="w-7 text-right font-mono">{s.number}</span>
              <span className="truncate">
                {s.black} {s.kind === 'continuity' ? '–' : '≠'} {s.red ?? 'all others'}
              </span>
              <span className="sr-only">{markWords[s.state]}</span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
