import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, Refused, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { Tick } from '../../ui/Tick';
import { SerialFields } from './SerialFields';
import { noRange, rangeFields, requestOf, writtenOf, type Way, type WrittenMeter } from './written';

const profiles = [
  { of: 'bench-four-wire', label: 'Bench meter, four leads, steps of 0.1 mΩ' },
  { of: 'hand-two-wire', label: 'Hand meter, two leads, steps of 0.1 Ω' },
  { of: 'own', label: 'Figures of its own' },
];

const waysIn: [Way, string][] = [
  ['eye', 'Somebody reads it and types'],
  ['network', 'It answers on the network'],
  ['serial', 'It is at a serial port of the server'],
];

/** Entering or changing a meter; a lead's. */
export function InstrumentForm({
  meter,
  onDone,
}: {
  /** Null for a new one. */
  meter: Schemas['InstrumentView'] | null;
  onDone: () => void;
}) {
  const client = useQueryClient();
  const [mine, setMine] = useState(() => writtenOf(meter));
  const set = (change: Partial<WrittenMeter>) => setMine({ ...mine, ...change });
  const save = useMutation({
    mutationFn: () =>
      meter
        ? given(
            api.PUT('/api/instruments/{id}', {
              params: { path: { id: meter.id } },
              headers: { 'If-Match': `"${meter.version}"` },
              body: requestOf(mine),
            }),
          )
        : given(api.POST('/api/instruments', { body: requestOf(mine) })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.instruments });
      onDone();
    },
  });
  const problems = save.error instanceof Refused ? save.error.problems : [];
  const wrong = (at: string) => problems.find((p) => p.at === at)?.message;
  const text = (of: 'name' | 'host' | 'port' | 'touchOhms' | 'leadOhms', label: string, hint?: string) => (
    <Field
      label={label}
      {...(hint ? { hint } : {})}
      error={wrong(of === 'touchOhms' || of === 'leadOhms' ? `/figures/${of}` : `/${of}`)}
    >
      <Input value={mine[of]} autoComplete="off" onChange={(e) => set({ [of]: e.target.value })} />
    </Field>
  );
  const date = (of: 'calibrated' | 'calibrationDue', label: string) => (
    <Field label={label} error={wrong(`/${of}`)}>
      <Input type="date" value={mine[of]} onChange={(e) => set({ [of]: e.target.value })} />
    </Field>
  );
  return (
    <form
      aria-label={meter ? `Change ${meter.name}` : 'Enter a meter'}
      className="space-y-4 border-t-2 border-edge p-4"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <div className="grid items-start gap-4 md:grid-cols-2">
        {text('name', 'Name', 'As it stands on its case')}
        <Field
          label="What it can tell"
          hint="Sets the guard bands of every verdict"
          error={wrong('/profile') ?? wrong('/figures')}
        >
          <Select value={mine.profile} onChange={(e) => set({ profile: e.target.value })}>
            {profiles.map((p) => (
              <option key={p.of} value={p.of}>
                {p.label}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="How a reading comes" error={wrong('/serial')}>
          <Select value={mine.way} onChange={(e) => set({ way: e.target.value as Way })}>
            {waysIn.map(([way, label]) => (
              <option key={way} value={way}>
                {label}
              </option>
            ))}
          </Select>
        </Field>
        {mine.way === 'network' && (
          <>
            {text('host', 'Address')}
            {text('port', 'Port', 'Many meters answer at 5025')}
          </>
        )}
        {date('calibrated', 'Calibrated on')}
        {date('calibrationDue', 'Again by')}
      </div>
      {mine.way === 'serial' && (
        <SerialFields
          serial={mine.serial}
          wrong={(at) => wrong(`/serial${at}`)}
          onChange={(serial) => set({ serial })}
        />
      )}
      {mine.profile === 'own' && (
        <fieldset className="space-y-3 border-t border-line pt-3">
          <legend className="font-bold">Its own figures</legend>
          <div className="grid items-start gap-4 md:grid-cols-3">
            {text('touchOhms', 'One touch differs from the next by, Ω')}
            {text('leadOhms', 'Its leads add, Ω')}
            <Ticked label="Four leads" on={mine.fourWire} onChange={(fourWire) => set({ fourWire })} />
          </div>
          {mine.ranges.map((r, i) => (
            <fieldset
              key={i}
              aria-label={`Range ${i + 1}`}
              className="grid grid-cols-2 items-start gap-3 md:grid-cols-[1fr_1fr_1fr_1fr_auto]"
            >
              {rangeFields.map((f) => (
                <Field key={f.of} label={f.label} error={wrong(`/figures/ranges/${i}/${f.of}`)}>
                  <Input
                    inputMode="decimal"
                    value={r[f.of]}
                    onChange={(e) =>
                      set({ ranges: mine.ranges.map((x, k) => (k === i ? { ...x, [f.of]: e.target.value } : x)) })
                    }
                  />
                </Field>
              ))}
              <Button
                className="md:mt-7"
                aria-label={`Take range ${i + 1} out`}
                onClick={() => set({ ranges: mine.ranges.filter((_, k) => k !== i) })}
              >
                −
              </Button>
            </fieldset>
          ))}
          {wrong('/figures/ranges') && <p className="font-bold text-fail">{wrong('/figures/ranges')}</p>}
          <Button onClick={() => set({ ranges: [...mine.ranges, noRange] })}>Add a range</Button>
        </fieldset>
      )}
      <div className="flex flex-wrap gap-6">
        <Ticked label="A switch matrix closes the way" on={mine.matrix} onChange={(matrix) => set({ matrix })} />
        {meter && (
          <Ticked label="Retired: kept for its past only" on={mine.retired} onChange={(retired) => set({ retired })} />
        )}
      </div>
      {wrong('/matrix') && <p className="font-bold text-fail">{wrong('/matrix')}</p>}
      {problems.length === 0 && <ErrorNotice error={save.error} />}
      <div className="flex gap-3">
        <Button kind="main" type="submit" disabled={save.isPending}>
          {meter ? 'Keep the changes' : 'Enter the meter'}
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </form>
  );
}

function Ticked({ label, on, onChange }: { label: string; on: boolean; onChange: (now: boolean) => void }) {
  return (
    <label className="flex min-h-11 cursor-pointer items-center gap-3">
      <Tick checked={on} onChange={onChange} />
      {label}
    </label>
  );
}
