import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useMemo, useRef } from 'react';
import type { Schemas } from '../../api/client';
import { MarkShape, markWords } from '../../ui/Verdict';

const rowHeight = 32;

/** The plan; narrowed to one connector when its tag is chosen. Only the rows in sight are drawn. */
export const StepList = memo(function StepList({
  steps: all,
  at,
  here,
  onGoTo,
  className,
}: {
  steps: Schemas['RunView']['steps'];
  at: string | null;
  here: number;
  onGoTo: (step: number) => void;
  className: string;
}) {
  const frame = useRef<HTMLDivElement>(null);
  const steps = useMemo(
    () => (at ? all.filter((s) => [s.black, s.red].some((p) => p?.split(':')[0] === at)) : all),
    [all, at],
  );
  const rows = useVirtualizer({
    count: steps.length,
    getScrollElement: () => frame.current,
    estimateSize: () => rowHeight,
    overscan: 4,
  });
  const index = steps.findIndex((s) => s.number === here);
  const height = rows.scrollRect?.height ?? 0;
  const shown = height > 0;
  useEffect(() => {
    const list = frame.current;
    if (!list || index < 0 || !shown) return;
    // All rows are of one height: where this one lies is known without asking the page to lay itself out.
    const from = rows.scrollOffset ?? 0;
    if (index * rowHeight < from || (index + 1) * rowHeight > from + height)
      list.scrollTop = (index + 0.5) * rowHeight - height / 2;
  }, [rows, index, shown, height]);
  useEffect(() => {
    // A frame that was put away has lost its place when it comes back.
    if (shown && index >= 0) rows.scrollToIndex(index, { align: 'center' });
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shown]);
  return (
    <section aria-label="Steps" className={`flex-col contain-content ${className}`}>
      <h2 className="border-b border-line px-3 py-2 font-bold">
        Plan{at && `, ${at} only`} <span className="font-normal text-soft">{steps.length} steps</span>
      </h2>
      <div ref={frame} className="h-0 grow overflow-y-auto contain-strict">
        <ol className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map((row) => {
            const step = steps[row.index];
            return (
              step && (
                <li
                  key={step.number}
                  aria-posinset={row.index + 1}
                  aria-setsize={steps.length}
                  className="absolute inset-x-0"
                  style={{ top: row.start, height: rowHeight }}
                >
                  <Row step={step} here={step.number === here} onGoTo={onGoTo} />
                </li>
              )
            );
          })}
        </ol>
      </div>
    </section>
  );
});

const Row = memo(function Row({
  step,
  here,
  onGoTo,
}: {
  step: Schemas['StepView'];
  here: boolean;
  onGoTo: (step: number) => void;
}) {
  return (
    <button
      type="button"
      aria-current={here ? 'step' : undefined}
      onClick={() => onGoTo(step.number)}
      className={`flex h-full w-full cursor-pointer items-center gap-2 px-3 text-left text-sm ${here ? 'bg-copper text-on-copper' : 'hover:bg-card'}`}
    >
      <span className={`flex size-5 items-center justify-center rounded-full ${here ? 'bg-card' : ''}`}>
        <MarkShape mark={step.standing.state} size={13} />
      </span>
      <span className="w-7 text-right font-mono">{step.number}</span>
      <span className="truncate">
        {step.subject ? `${step.sign} ${step.subject}` : `${step.black} ${step.sign} ${step.red ?? 'all others'}`}
      </span>
      <span className="sr-only">{markWords[step.standing.state]}</span>
    </button>
  );
});
