import type { Schemas } from '../../api/client';
import { MarkShape } from '../../ui/Verdict';
import { readingText } from '../../ui/readings';

type Step = Schemas['StepView'];

/** One logarithmic ruler with the allowed window on it, and the reading landing on it. */
export function Ruler({
  step,
  value: read,
  verdict,
}: {
  step: Step;
  /** In the step's unit; null for over range, undefined for no reading. */
  value: number | null | undefined;
  verdict: Schemas['Verdict'] | undefined;
}) {
  const [from, to] = [Math.log10(step.rulerFrom), Math.log10(step.rulerTo)];
  const place = (value: number) =>
    100 * Math.min(1, Math.max(0, (Math.log10(Math.max(value, 1e-9)) - from) / (to - from)));
  const decades = Array.from({ length: Math.round(to - from) + 1 }, (_, i) => 10 ** (Math.round(from) + i));
  const beyond = read === null || (read !== undefined && read > step.rulerTo);
  const below = typeof read === 'number' && read < step.rulerFrom;
  return (
    <div
      className="relative h-20 shrink-0 select-none"
      role="img"
      aria-label={`Allowed: ${step.limitsText}${read === undefined ? '' : `. Reading: ${readingText(read, step.unit)}`}`}
    >
      <div className="absolute inset-x-0 top-6 h-7 overflow-hidden border-2 border-ink bg-well">
        {step.bands
          .filter((b) => b.verdict !== 'fail')
          .map((b) => (
            <div
              key={b.from}
              className={`absolute inset-y-0 ${b.verdict === 'pass' ? 'bg-pass' : 'border-x border-doubt bg-doubt/40'}`}
              style={{
                left: `${place(b.from)}%`,
                width: `${(b.to === null ? 100 : place(b.to)) - place(b.from)}%`,
              }}
            />
          ))}
      </div>
      {decades.map((d, i) => (
        <div key={d} className="absolute top-13" style={{ left: `${place(d)}%` }}>
          <div className="h-1.5 w-0.5 bg-ink" />
          <span
            className={`absolute top-1.5 font-mono text-sm whitespace-nowrap ${i === 0 ? '' : i === decades.length - 1 ? '-translate-x-full' : '-translate-x-1/2'}`}
          >
            {readingText(d, step.unit).replace(/\.0+ /, ' ')}
          </span>
        </div>
      ))}
      {read !== undefined && verdict && (
        <div
          className={`absolute top-0 flex items-center gap-2 ${beyond ? 'right-0 flex-row-reverse' : below ? 'left-0' : '-translate-x-1/2 flex-col'}`}
          style={beyond || below ? {} : { left: `${place(read)}%` }}
        >
          <MarkShape mark={verdict} size={22} />
          {beyond && <span className="font-bold">beyond →</span>}
          {below && <span className="font-bold">← below</span>}
          {!beyond && !below && <span className="h-8 w-1 bg-ink" />}
        </div>
      )}
    </div>
  );
}
