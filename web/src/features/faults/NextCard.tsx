import { useRef, useState } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Field, Input, Key } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import type { Side } from '../../ui/Face';
import { useMayChange } from '../../ui/mayChange';
import { readingText, readTyped, typedHints } from '../../ui/readings';
import { usePageKeys } from '../../ui/usePageKeys';
import { Place } from '../bench/Place';
import { useProbe, type Sides } from './useProbe';

/** The measurement that tells most for its time, as a card to touch by: one key takes it, and the ranking moves. */
export function NextCard({
  job,
  log,
  loom,
  next,
  isSure,
  side,
  onTurn,
}: {
  job: number;
  log: Schemas['FaultsView'];
  loom: Schemas['LoomView'];
  next: Schemas['NextMeasurementView'] | null;
  isSure: boolean;
  side: Side;
  onTurn: () => void;
}) {
  const probe = useProbe(job, log.runId ?? 0, log.lastEvent);
  const mayChange = useMayChange();
  const [typed, setTyped] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const sides: Sides | null = next && { a: [next.a], b: next.b, moved: next.moved };
  const enter = () => {
    const value = readTyped(typed, 'ohm');
    if (!sides || value === undefined || probe.busy) return;
    setTyped('');
    probe.take(sides, value);
  };
  usePageKeys((event, inField) => {
    if (inField) return;
    if (event.key === ' ' && !(event.target instanceof HTMLButtonElement)) {
      event.preventDefault();
      if (sides && log.remote && mayChange && !probe.busy) probe.measure(sides);
    } else if (event.key.toLowerCase() === 't') onTurn();
    else if (/^[0-9.,+]$/.test(event.key)) input.current?.focus();
  });
  const one = next?.b?.length === 1 ? (next.b[0] ?? null) : null;
  return (
    <section aria-labelledby="next" className="space-y-3">
      <h4 id="next" className="text-lg font-bold">
        {next ? 'Measure next' : isSure ? 'Sure enough: nothing more to measure' : 'No measurement would tell more'}
      </h4>
      {next && (
        <div className="border-2 border-edge bg-card">
          <p className={`border-b-2 border-edge px-3 py-1 text-xl ${next.moved ? 'bg-doubt/20' : ''}`}>{next.text}</p>
          <div className="grid min-h-64 sm:grid-cols-2">
            <div className="flex min-h-44 min-w-0">
              <Place probe="Black probe" point={next.a} loom={loom} side={side} />
            </div>
            <div className="flex min-h-44 min-w-0 border-edge max-sm:border-t-2 sm:border-l-2">
              {next.b && next.b.length > 1 ? (
                <Joined places={next.b} />
              ) : (
                <Place probe="Red probe" point={one} loom={loom} side={side} />
              )}
            </div>
          </div>
          <div className="flex flex-wrap items-center gap-3 border-t-2 border-edge p-3">
            {mayChange && (
              <form
                className="relative"
                onSubmit={(e) => {
                  e.preventDefault();
                  enter();
                }}
              >
                <label className="sr-only" htmlFor="typed">
                  {typedHints.ohm.label}
                </label>
                <input
                  id="typed"
                  ref={input}
                  value={typed}
                  onChange={(e) => setTyped(e.target.value)}
                  autoComplete="off"
                  placeholder={typedHints.ohm.example}
                  className="h-14 w-32 rounded-sm border-2 border-edge bg-card px-3 font-mono text-xl placeholder:text-soft"
                />
              </form>
            )}
            {mayChange && (
              <Button
                disabled={readTyped(typed, 'ohm') === undefined || probe.busy}
                onClick={enter}
                className="min-h-14"
              >
                Enter it <Key>Enter</Key>
              </Button>
            )}
            {log.remote && (
              <Button
                changes
                kind="main"
                disabled={probe.busy}
                onClick={() => sides && probe.measure(sides)}
                className="min-h-14"
              >
                {probe.busy ? 'Reading …' : 'Take reading'} <Key>Space</Key>
              </Button>
            )}
            <Button onClick={onTurn} className="min-h-14">
              Turn the faces <Key>T</Key>
            </Button>
          </div>
        </div>
      )}
      <p aria-live="polite" className="text-lg">
        {probe.last && (
          <>
            {probe.last.a.join(' and ')} to {probe.last.b?.join(' and ') ?? 'all other circuits'}:{' '}
            <b className="font-mono">{readingText(probe.last.ohms, 'ohm')}</b>.{' '}
            {probe.last.counts
              ? 'Kept.'
              : 'Kept, and it does not count: something was mended meanwhile, or the meter is in doubt.'}
          </>
        )}
      </p>
      <ErrorNotice error={probe.error} />
      {probe.unsent && (
        <Notice tone="mind">
          {readingText(probe.unsent.ohms, 'ohm')} was taken and is not at the server yet.{' '}
          <button type="button" className="cursor-pointer underline" onClick={probe.again}>
            Send it again
          </button>
        </Notice>
      )}
      {mayChange && <OwnProbe busy={probe.busy} onTake={probe.take} />}
    </section>
  );
}

/** Several cavities that the fixture or a shorting plug joins. */
function Joined({ places }: { places: string[] }) {
  return (
    <div className="flex min-w-0 flex-1 flex-col p-3">
      <p className="text-soft">Red probe</p>
      <p className="text-3xl font-bold">{places.length} cavities, joined</p>
      <p className="mt-2 font-mono text-lg">{places.join('  ')}</p>
    </div>
  );
}

const listed = (text: string) => text.split(/[,;\s]+/).filter(Boolean);

/** Any other measurement that somebody thinks of. */
function OwnProbe({ busy, onTake }: { busy: boolean; onTake: (sides: Sides, ohms: number | null) => void }) {
  const [a, setA] = useState('');
  const [b, setB] = useState('');
  const [shown, setShown] = useState('');
  const [moved, setMoved] = useState(false);
  const value = readTyped(shown, 'ohm');
  return (
    <details>
      <summary className="cursor-pointer underline decoration-line">Something else was measured</summary>
      <form
        className="mt-3 grid max-w-4xl items-end gap-3 sm:grid-cols-[1fr_1fr_9rem_auto]"
        onSubmit={(e) => {
          e.preventDefault();
          if (value === undefined) return;
          onTake({ a: listed(a), b: b.trim() === '' ? null : listed(b), moved }, value);
          setShown('');
        }}
      >
        <Field label="One side" hint="A cavity such as ECU-A:8, or several.">
          <Input value={a} onChange={(e) => setA(e.target.value)} required />
        </Field>
        <Field label="The other" hint="Empty for all other circuits.">
          <Input value={b} onChange={(e) => setB(e.target.value)} />
        </Field>
        <Field label="It reads" hint="72m, 1.2, OL">
          <Input value={shown} onChange={(e) => setShown(e.target.value)} required />
        </Field>
        <Button changes type="submit" disabled={busy || value === undefined}>
          Keep it
        </Button>
        <label className="flex items-center gap-2 sm:col-span-4">
          <input type="checkbox" checked={moved} onChange={(e) => setMoved(e.target.checked)} className="size-6" />
          while the loom was moved; OL then means that it broke
        </label>
      </form>
    </details>
  );
}
