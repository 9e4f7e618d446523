import type { Schemas } from '../../api/client';
import { Key } from '../../ui/Controls';
import { decisions } from './decisions';

/** One loose wire, big enough to read from the bench: where it is, what it is, what to do and why. */
export function LooseCard({
  cavity,
  place,
  side,
  onTake,
}: {
  cavity: Schemas['LooseCavity'];
  place: string;
  side: 'wire' | 'mating';
  onTake: (decision: Schemas['LooseDecision'] | null) => void;
}) {
  const { advice, decided } = cavity;
  return (
    <section aria-label={`Wire in ${place}`} className="space-y-3 border-2 border-copper bg-card p-4">
      <p className="flex flex-wrap items-baseline gap-x-4">
        <span className="font-mono text-4xl font-bold text-copper">{place}</span>
        <span className="text-soft">{side === 'wire' ? cavity.wireSide : cavity.mating}</span>
      </p>
      <p className="text-3xl font-bold">{cavity.function || 'Not on the sheet'}</p>
      <p className="text-soft">
        {cavity.role}
        {cavity.colour && `, ${cavity.colour} on the sheet`}
      </p>
      <div className="flex flex-wrap gap-2" role="group" aria-label="What to do with it">
        {Object.entries(decisions).map(([name, d]) => {
          const proposed = name === advice.decision;
          return (
            <button
              key={name}
              type="button"
              aria-pressed={decided?.decision === name}
              onClick={() => onTake(name as Schemas['LooseDecision'])}
              className={`flex min-h-12 cursor-pointer items-center gap-2 border-2 px-4 text-lg font-bold ${
                decided?.decision === name
                  ? 'border-copper bg-copper text-on-copper'
                  : proposed
                    ? 'border-copper bg-well'
                    : 'border-edge bg-paper'
              }`}
            >
              {d.label} <Key>{proposed ? 'Enter' : d.key}</Key>
            </button>
          );
        })}
      </div>
      <p className="text-lg">{advice.reason}</p>
      <p>
        Label <code className="border border-edge bg-paper px-2 py-0.5 font-mono text-lg">{advice.label}</code>{' '}
        <span className="text-soft">
          {advice.lengthMm > 0 ? `keep ${advice.lengthMm} mm from the plug` : 'nothing is kept'}
        </span>
      </p>
      {decided && (
        <p className="text-sm text-soft">
          Decided by {decided.by}: {decisions[decided.decision]?.label.toLowerCase()}.{' '}
          <button type="button" className="min-h-6 cursor-pointer underline" onClick={() => onTake(null)}>
            Take it back
          </button>{' '}
          <Key>Backspace</Key>
        </p>
      )}
    </section>
  );
}
