import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { readTyped } from '../../ui/readings';
import { SightingNotes } from './SightingNotes';
import { useSighting, type Sighting } from './useSighting';

const kinds = {
  function: 'a function works, or does not',
  volts: 'volts at a cavity',
  lamp: 'a test lamp at a cavity',
  device: 'a device by itself',
  wire: 'a wire by itself, one end lifted',
  drop: 'a drop under load',
  capacitance: 'capacitance of a cavity',
  look: 'something to see',
} as const;

type Kind = keyof typeof kinds;

const powered: Kind[] = ['function', 'volts', 'lamp'];

/** Anything that somebody saw besides resistances of the bare loom. */
export function OwnSighting({ job, run, lastEvent }: { job: number; run: number; lastEvent: number }) {
  const [open, setOpen] = useState(false);
  return (
    <details onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer underline decoration-line">Something was seen, with power or by eye</summary>
      {open && <Form job={job} run={run} lastEvent={lastEvent} />}
    </details>
  );
}

function Form({ job, run, lastEvent }: { job: number; run: number; lastEvent: number }) {
  const sighting = useSighting(job, run, lastEvent);
  const choices = useQuery({
    queryKey: keys.sightingChoices(job, run),
    queryFn: () => given(api.GET('/api/runs/{id}/sightings/choices', { params: { path: { id: run } } })),
  });
  const [kind, setKind] = useState<Kind>('function');
  const [at, setAt] = useState('');
  const [other, setOther] = useState('');
  const [key, setKey] = useState<Schemas['KeyPosition']>('on');
  const [set, setSet] = useState<string[]>([]);
  const [value, setValue] = useState('');
  const known = choices.data;
  const what = read({ kind, at: at.trim(), other: other.trim(), key, set, value: value.trim() });
  const isPowered = powered.includes(kind);
  return (
    <form
      className="mt-3 grid max-w-4xl items-end gap-3 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (what) sighting.keep(what);
      }}
    >
      <Field label="What">
        <Select
          value={kind}
          onChange={(e) => {
            setKind(e.target.value as Kind);
            setAt('');
            setValue('');
          }}
        >
          {Object.entries(kinds).map(([k, words]) => (
            <option key={k} value={k}>
              {words}
            </option>
          ))}
        </Select>
      </Field>
      <Where kind={kind} at={at} onAt={setAt} known={known} />
      {isPowered && (
        <Field label="Key at">
          <Select value={key} onChange={(e) => setKey(e.target.value as Schemas['KeyPosition'])}>
            {(known?.positions ?? ['on' as const]).map((p) => (
              <option key={p}>{p}</option>
            ))}
          </Select>
        </Field>
      )}
      {kind === 'drop' && (
        <Field label="The other cavity">
          <Input value={other} onChange={(e) => setOther(e.target.value)} required />
        </Field>
      )}
      <What kind={kind} value={value} onValue={setValue} />
      {isPowered && known && known.conditions.length > 0 && (
        <fieldset className="sm:col-span-2">
          <legend className="mb-1 font-bold">Besides, it was so that</legend>
          <div className="flex flex-wrap gap-x-5 gap-y-1">
            {known.conditions.map((c) => (
              <label key={c} className="flex min-h-9 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-5"
                  checked={set.includes(c)}
                  onChange={(e) => setSet((now) => (e.target.checked ? [...now, c] : now.filter((n) => n !== c)))}
                />
                {c}
              </label>
            ))}
          </div>
        </fieldset>
      )}
      <div className="space-y-2 sm:col-span-2">
        <Button changes type="submit" disabled={!what || sighting.busy}>
          Keep it
        </Button>
        <SightingNotes sighting={sighting} />
      </div>
    </form>
  );
}

function Where({
  kind,
  at,
  onAt,
  known,
}: {
  kind: Kind;
  at: string;
  onAt: (at: string) => void;
  known: Schemas['SightingChoicesView'] | undefined;
}) {
  const options = kind === 'function' ? known?.functions : kind === 'device' ? known?.devices : undefined;
  if (kind === 'function' || kind === 'device')
    return (
      <Field label={kind === 'function' ? 'Function' : 'Device'}>
        <Select value={at} onChange={(e) => onAt(e.target.value)} required>
          <option value="">Choose …</option>
          {(options ?? []).map((o) => (
            <option key={o}>{o}</option>
          ))}
        </Select>
      </Field>
    );
  return (
    <Field
      label={kind === 'wire' ? 'Wire' : kind === 'look' ? 'Place' : 'Cavity'}
      hint={
        kind === 'wire'
          ? 'Its id, such as W12.'
          : kind === 'look'
            ? 'A cavity, wire, splice or device.'
            : 'Such as ECU-A:8.'
      }
    >
      <Input value={at} onChange={(e) => onAt(e.target.value)} required />
    </Field>
  );
}

const answers: Partial<Record<Kind, [value: string, words: string][]>> = {
  function: [
    ['no', 'does not work'],
    ['yes', 'works'],
  ],
  lamp: [
    ['ground dark', 'to ground: dark'],
    ['ground dim', 'to ground: dim'],
    ['ground bright', 'to ground: bright'],
    ['supply dark', 'to supply: dark'],
    ['supply dim', 'to supply: dim'],
    ['supply bright', 'to supply: bright'],
  ],
};

const labels: Partial<Record<Kind, [label: string, hint: string]>> = {
  volts: ['It reads, volts', 'Against the battery’s negative pole.'],
  device: ['It measures', '12, 2k2 is written 2.2k, OL for over range'],
  wire: ['It measures', '72m, 1.2, OL for over range'],
  drop: ['Millivolts at amperes', '320 at 2'],
  capacitance: ['Nanofarad', 'Against all else, joined.'],
  look: ['What is to be seen', 'Green crust, a contact that stands back …'],
};

function What({ kind, value, onValue }: { kind: Kind; value: string; onValue: (value: string) => void }) {
  const choice = answers[kind];
  if (choice)
    return (
      <Field label="It">
        <Select value={value} onChange={(e) => onValue(e.target.value)} required>
          <option value="">Choose …</option>
          {choice.map(([v, words]) => (
            <option key={v} value={v}>
              {words}
            </option>
          ))}
        </Select>
      </Field>
    );
  const [label, hint] = labels[kind] ?? ['It', ''];
  return (
    <Field label={label} hint={hint}>
      <Input value={value} onChange={(e) => onValue(e.target.value)} required />
    </Field>
  );
}

/** The sighting that the fields say; undefined while they do not make one. */
export function read(of: {
  kind: Kind;
  at: string;
  other: string;
  key: Schemas['KeyPosition'];
  set: string[];
  value: string;
}): Sighting | undefined {
  const { kind, at, key, set, value } = of;
  if (at === '' || value === '') return undefined;
  const number = Number(value.replace(',', '.'));
  const ohm = readTyped(value, 'ohm');
  const power = { key, set, without: [] };
  switch (kind) {
    case 'function':
      return { kind, ...power, name: at, works: value === 'yes' };
    case 'volts':
      return Number.isFinite(number) ? { kind, ...power, at, volts: number } : undefined;
    case 'lamp': {
      const [to, glow] = value.split(' ');
      return glow === 'dark' || glow === 'dim' || glow === 'bright'
        ? { kind, ...power, at, toSupply: to === 'supply', glow }
        : undefined;
    }
    case 'device':
      return ohm === undefined ? undefined : { kind, device: at, ohm };
    case 'wire':
      return ohm === undefined ? undefined : { kind, wire: at, ohm };
    case 'drop': {
      const said = /^(\d+(?:[.,]\d+)?)\s*(?:mV)?\s*(?:at|@)\s*(\d+(?:[.,]\d+)?)\s*A?$/i.exec(value);
      return said && of.other !== ''
        ? {
            kind,
            a: at,
            b: of.other,
            amps: Number(said[2]?.replace(',', '.')),
            millivolts: Number(said[1]?.replace(',', '.')),
          }
        : undefined;
    }
    case 'capacitance':
      return number > 0 ? { kind, at, nanofarad: number } : undefined;
    case 'look':
      return { kind, place: at, words: value };
  }
}
