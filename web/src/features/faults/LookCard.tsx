import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Input } from '../../ui/Controls';
import { readTyped } from '../../ui/readings';
import { SightingNotes } from './SightingNotes';
import { useSighting, type Sighting } from './useSighting';

type Look = Schemas['LookView'];

/** What to look at next where a measurement of the bare loom tells less: with its own way to answer. */
export function LookCard({ job, log, look }: { job: number; log: Schemas['FaultsView']; look: Look }) {
  const sighting = useSighting(job, log.runId ?? 0, log.lastEvent);
  return (
    <section aria-labelledby="look" className="space-y-3">
      <h4 id="look" className="text-lg font-bold">
        Look next
      </h4>
      <div className="border-2 border-edge bg-card">
        <p className={`border-b-2 border-edge px-3 py-2 text-xl ${look.key ? 'bg-doubt/20' : ''}`}>{look.text}</p>
        {look.key && (
          <p className="px-3 pt-3">
            Power is on: keep clear of the fan, the starter and hot parts, and let nobody turn the key but the one who
            holds it.
          </p>
        )}
        <div className="flex flex-wrap items-center gap-3 p-3">
          <Answer look={look} busy={sighting.busy} onSee={sighting.keep} />
        </div>
      </div>
      <SightingNotes sighting={sighting} />
    </section>
  );
}

function Answer({ look, busy, onSee }: { look: Look; busy: boolean; onSee: (what: Sighting) => void }) {
  const [typed, setTyped] = useState('');
  const [amps, setAmps] = useState('2');
  const { set, without, at } = look;
  const key = look.key ?? 'on';
  const ohm = readTyped(typed, 'ohm');
  const number = typed.trim() === '' ? NaN : Number(typed.replace(',', '.'));
  const ohmFits = ohm !== undefined;
  switch (look.kind) {
    case 'lamp-to-ground':
    case 'lamp-to-supply':
      return (['bright', 'dim', 'dark'] as const).map((glow) => (
        <Button
          key={glow}
          changes
          disabled={busy}
          className="min-h-14 min-w-28 text-xl capitalize"
          onClick={() => onSee({ kind: 'lamp', key, set, without, at, toSupply: look.kind === 'lamp-to-supply', glow })}
        >
          {glow}
        </Button>
      ));
    case 'volts':
      return (
        <Typed
          label="Volts"
          unit="V"
          value={typed}
          onChange={setTyped}
          fits={Number.isFinite(number) && !busy}
          onEnter={() => onSee({ kind: 'volts', key, set, without, at, volts: number })}
        />
      );
    case 'wire':
    case 'device':
      return (
        <Typed
          label="Ohms, or OL for over range"
          unit="Ω"
          value={typed}
          onChange={setTyped}
          fits={ohmFits && !busy}
          onEnter={() =>
            onSee(
              look.kind === 'wire'
                ? { kind: 'wire', wire: at, ohm: ohm ?? null }
                : { kind: 'device', device: at, ohm: ohm ?? null },
            )
          }
        />
      );
    default:
      return (
        <>
          <span className="flex items-center gap-2">
            <Input
              aria-label="Current of the load test, amperes"
              className="w-24"
              value={amps}
              onChange={(e) => setAmps(e.target.value)}
            />
            A
          </span>
          <Typed
            label="Drop in millivolts"
            unit="mV"
            value={typed}
            onChange={setTyped}
            fits={Number.isFinite(number) && Number(amps) > 0 && !busy}
            onEnter={() => onSee({ kind: 'drop', a: at, b: look.to ?? at, amps: Number(amps), millivolts: number })}
          />
        </>
      );
  }
}

function Typed({
  label,
  unit,
  value,
  onChange,
  fits,
  onEnter,
}: {
  label: string;
  unit: string;
  value: string;
  onChange: (text: string) => void;
  fits: boolean;
  onEnter: () => void;
}) {
  return (
    <form
      className="flex flex-wrap items-center gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (fits) onEnter();
      }}
    >
      <span className="flex items-center gap-2">
        <Input
          aria-label={label}
          className="h-14 w-36 font-mono text-xl"
          value={value}
          onChange={(e) => onChange(e.target.value)}
          autoComplete="off"
        />
        {unit}
      </span>
      <Button changes type="submit" className="min-h-14" disabled={!fits}>
        Keep it
      </Button>
    </form>
  );
}
