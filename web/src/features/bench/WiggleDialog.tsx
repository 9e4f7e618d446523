import { useEffect, useState } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Key } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';
import { MarkShape } from '../../ui/Verdict';
import { useWiggle, type Wiggle } from './useWiggle';

const box = { width: 600, height: 160 };

/** A step read without a pause while the loom is flexed: live trace, breaks, and where the hand is. */
export function WiggleDialog({
  run,
  step,
  onClose,
}: {
  run: Schemas['RunView'];
  step: Schemas['StepView'];
  /** What was seen; null when it is not to be kept. */
  onClose: (seen: { value: number | null; moved: Schemas['Moved'] } | null) => void;
}) {
  const { latest, drawn, running, error, end } = useWiggle(run.id, step.number);
  const places = [step.black, ...step.way, step.red ?? ''].filter(Boolean);
  const [hand, setHand] = useState(0);
  const [brokeAt, setBrokeAt] = useState<{ breaks: number; place: string } | null>(null);
  const last = places.length - 1;
  useEffect(() => {
    const move = (e: KeyboardEvent) => {
      const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
      if (by) setHand((h) => Math.min(last, Math.max(0, h + by)));
    };
    window.addEventListener('keydown', move);
    return () => window.removeEventListener('keydown', move);
  }, [last]);
  // The place of the hand when the last break came.
  const breaks = latest?.breaks ?? 0;
  if (breaks > (brokeAt?.breaks ?? 0)) setBrokeAt({ breaks, place: places[hand] ?? '' });
  const keep = () => {
    end();
    if (!latest) {
      onClose(null);
      return;
    }
    const moved = {
      seconds: latest.seconds,
      breaks: latest.breaks,
      seesSeconds: latest.seesSeconds,
      hand: brokeAt?.place ?? places[hand] ?? '',
    };
    onClose({ value: latest.worstOverRange ? null : latest.worst, moved });
  };
  return (
    <Sheet title={`Move the loom: ${step.black} – ${step.red ?? 'all others'}`} onClose={() => onClose(null)}>
      <div>
        <p className="mb-2">
          Hold the probes still and flex the loom along its way, a hand’s breadth at a time; <Key>←</Key> <Key>→</Key>{' '}
          say where the hand is. It must read <b className="whitespace-nowrap">{step.limitsText}</b>.
        </p>
        <Trace samples={drawn} step={step} />
        <p className="mt-2 flex items-center gap-3 text-3xl font-bold" aria-live="polite" data-testid="wiggle">
          <MarkShape mark={breaks > 0 ? 'fail' : latest ? 'pass' : 'not-tested'} size={36} />
          {latest ? latest.words : 'waiting for the meter'}
        </p>
        <p className="min-h-6 text-soft">
          {latest &&
            `${latest.seconds} s. Breaks longer than ${(latest.seesSeconds * 1000).toFixed(1)} ms show with this meter.`}
          {brokeAt && ` The last break came with the hand at ${brokeAt.place}.`}
        </p>
        <ol className="mt-3 flex flex-wrap gap-1" aria-label="Where the hand is">
          {places.map((p, i) => (
            <li key={p}>
              <button
                type="button"
                aria-pressed={i === hand}
                onClick={() => setHand(i)}
                className={`min-h-11 cursor-pointer border-2 px-3 font-mono ${i === hand ? 'border-copper bg-copper text-on-copper' : 'border-edge bg-card'}`}
              >
                {p}
              </button>
            </li>
          ))}
        </ol>
        {latest?.trouble && <Notice tone="mind">{latest.trouble}</Notice>}
        <ErrorNotice error={error} />
        <div className="mt-4 flex flex-wrap gap-3">
          <Button kind="main" changes className="min-h-14" disabled={!latest} onClick={keep}>
            {running ? 'Stop and keep it' : 'Keep it'}
          </Button>
          <Button
            className="min-h-14"
            onClick={() => {
              end();
              onClose(null);
            }}
          >
            Leave it
          </Button>
        </div>
      </div>
    </Sheet>
  );
}

/** The latest samples on the step's own ruler; what fails is drawn at the edge where it went over range. */
function Trace({ samples, step }: { samples: Wiggle['samples']; step: Schemas['StepView'] }) {
  const [low, high] = [Math.log10(step.rulerFrom), Math.log10(step.rulerTo)];
  const y = (ohms: number | null) =>
    ohms === null
      ? 4
      : box.height - 4 - ((Math.log10(Math.max(ohms, 10 ** low)) - low) / (high - low)) * (box.height - 8);
  const first = samples[0]?.ms ?? 0;
  const span = Math.max(4000, (samples.at(-1)?.ms ?? 0) - first);
  const x = (ms: number) => ((ms - first) / span) * box.width;
  const pass = step.bands.find((b) => b.verdict === 'pass');
  return (
    <svg
      viewBox={`0 0 ${box.width} ${box.height}`}
      className="w-full border-2 border-edge bg-card"
      role="img"
      aria-label="Readings over the last seconds"
    >
      {pass && (
        <rect
          x="0"
          width={box.width}
          y={Math.max(0, y(pass.to))}
          height={Math.max(2, y(pass.from) - Math.max(0, y(pass.to)))}
          className="fill-pass/25"
        />
      )}
      <polyline
        points={samples.map((s) => `${x(s.ms).toFixed(1)},${Math.max(2, y(s.ohms)).toFixed(1)}`).join(' ')}
        fill="none"
        className="stroke-ink"
        strokeWidth="2"
      />
      {samples
        .filter((s) => s.fails)
        .map((s) => (
          <rect key={s.ms} x={x(s.ms) - 3} y={Math.max(2, y(s.ohms)) - 3} width="6" height="6" className="fill-fail" />
        ))}
    </svg>
  );
}
