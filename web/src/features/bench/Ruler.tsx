import type { Schemas } from '../../api/client';
import { MarkShape } from '../../ui/Verdict';
import { ohmsText } from '../../ui/ohms';

type Step = Schemas['StepView'];

/** One logarithmic ruler with the allowed window on it, and the reading landing on it. */
export function Ruler({
  step,
  ohms,
  verdict,
}: {
  step: Step;
  ohms: number | null | undefined;
  verdict: Schemas['Verdict'] | undefined;
}) {
  const [from, to] = [Math.log10(step.rulerFromOhms), Math.log10(step.rulerToOhms)];
  const place = (value: number) =>
    100 * Math.min(1, Math.max(0, (Math.log10(Math.max(value, 1e-9)) - from) / (to - from)));
  const decades = Array.from({ length: Math.round(to - from) + 1 }, (_, i) => 10 ** (Math.round(from) + i));
  const beyond = ohms === null || (ohms !== undefined && ohms > step.rulerToOhms);
  const below = typeof ohms === 'number' && ohms < step.rulerFromOhms;
  return (
    <div
      className="relative h-20 shrink-0 select-none"
      role="img"
      aria-label={`Allowed: ${step.limitsText}${ohms === undefined ? '' : `. Reading: ${ohmsText(ohms)}`}`}
    >
      <div className="absolute inset-x-0 top-6 h-7 overflow-hidden border-2 border-ink bg-well">
        {step.bands
          .filter((b) => b.verdict !== 'fail')
          .map((b) => (
            <div
              key={b.fromOhms}
              className={`absolute inset-y-0 ${b.verdict === 'pass' ? 'bg-pass' : 'border-x border-doubt bg-doubt/40'}`}
              style={{
                left: `${place(b.fromOhms)}%`,
                width: `${(b.toOhms === null ? 100 : place(b.toOhms)) - place(b.fromOhms)}%`,
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
            {ohmsText(d).replace(/\.0+ /, ' ')}
          </span>
        </div>
      ))}
      {ohms !== undefined && verdict && (
        <div
          className={`absolute top-0 flex items-center gap-2 ${beyond ? 'right-0 flex-row-reverse' : below ? 'left-0' : '-translate-x-1/2 flex-col'}`}
          style={beyond || below ? {} : { left: `${place(ohms)}%` }}
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
