import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type SubmitEvent } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { BeyondBare, type Beyond } from './BeyondBare';
import { Foresight } from './Foresight';

const ways: { value: Schemas['Isolation']; label: string; text: string }[] = [
  {
    value: 'neighbours',
    label: 'Neighbours',
    text: 'Two probes, no fixture: only circuits that stand next to each other in a face, run twisted together or are spliced near each other.',
  },
  {
    value: 'thorough',
    label: 'Thorough',
    text: 'Each circuit against all others, joined by a shorting plug or a switched fixture.',
  },
];

const lamps = [5, 10, 21, 55];

/** Before a run: cautions, the meter in hand, and how isolation is to be proven. */
export function StartRun({
  job,
  bench,
  loomName,
  onStarted,
}: {
  job: Schemas['JobView'];
  bench: Schemas['BenchView'];
  loomName: string;
  onStarted: () => void;
}) {
  const client = useQueryClient();
  const fitting =
    bench.meters.find((m) => m.remote && m.name.toLowerCase().includes(loomName.toLowerCase())) ?? bench.meters[0];
  const [meterId, setMeter] = useState(fitting?.id ?? 0);
  const [isolation, setIsolation] = useState<Schemas['Isolation']>('neighbours');
  const [carryOver, setCarryOver] = useState(true);
  const [asked, setAsked] = useState(false);
  const standing = bench.current;
  const [load, setLoad] = useState('21');
  const [resistor, setResistor] = useState('10');
  const inHand = {
    lampWatts: lamps.includes(Number(load)) ? Number(load) : null,
    resistorOhms: load === 'resistor' ? Number(resistor) || 0 : null,
  };
  const [beyond, setBeyond] = useState<Beyond>({ fitted: [], pulls: false, looks: false });
  const plan = useQuery({
    queryKey: keys.plan(job.id, job.revisionId, meterId, isolation, inHand, beyond),
    queryFn: () =>
      given(
        api.GET('/api/jobs/{id}/plan', {
          params: {
            path: { id: job.id },
            query: {
              meterId,
              isolation,
              fitted: [...beyond.fitted],
              pulls: beyond.pulls,
              looks: beyond.looks,
              ...(inHand.lampWatts === null ? {} : { lampWatts: inHand.lampWatts }),
              ...(inHand.resistorOhms === null ? {} : { resistorOhms: inHand.resistorOhms }),
            },
          },
        }),
      ),
    enabled: meterId > 0,
    placeholderData: keepPreviousData,
  });
  const proof = plan.data?.carry ?? null;
  const start = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/jobs/{id}/runs', {
          params: { path: { id: job.id } },
          body: {
            meterId,
            isolation,
            carryOver: carryOver && proof !== null,
            ...inHand,
            fitted: [...beyond.fitted],
            pulls: beyond.pulls,
            looks: beyond.looks,
            setAside: standing?.id ?? null,
          },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.bench(job.id) });
      await client.invalidateQueries({ queryKey: keys.job(job.id) });
      onStarted();
    },
    // Somebody else may have been quicker: what stands on the bench now is shown.
    onError: () => client.invalidateQueries({ queryKey: keys.bench(job.id) }),
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    start.mutate();
  };
  return (
    <form onSubmit={submit} className="mx-auto w-full max-w-4xl space-y-6 p-6">
      <h2 className="text-3xl font-bold">Start the bench run</h2>
      <Notice tone="mind">
        <p className="font-bold">Before the first touch</p>
        <ul className="list-disc pl-6">
          {bench.cautions.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
      </Notice>
      <Field label="Meter in hand" hint="Its accuracy sets the guard bands: what it cannot decide, it says so.">
        <Select value={meterId} onChange={(e) => setMeter(Number(e.target.value))}>
          {bench.meters.map((m) => (
            <option key={m.id} value={m.id}>
              {m.name} · {m.fourWire ? 'four-wire' : 'two-wire'} ·{' '}
              {m.remote ? (m.matrix ? 'switches the probes itself' : 'read by the program') : 'readings are typed'}
              {m.overdue !== null && ` · ${m.overdue}`}
            </option>
          ))}
        </Select>
      </Field>
      <fieldset>
        <legend className="mb-1 font-bold">How isolation is proven</legend>
        <div className="grid gap-3 sm:grid-cols-2">
          {ways.map((w) => (
            <label
              key={w.value}
              className={`flex cursor-pointer gap-3 border-2 bg-card p-4 ${isolation === w.value ? 'border-copper' : 'border-edge'}`}
            >
              <input
                type="radio"
                name="isolation"
                className="mt-1 size-5 accent-copper"
                checked={isolation === w.value}
                onChange={() => setIsolation(w.value)}
              />
              <span>
                <b className="block">{w.label}</b>
                {w.text}
              </span>
            </label>
          ))}
        </div>
      </fieldset>
      <div
        className={`grid gap-x-6 gap-y-3 sm:grid-cols-2 ${(plan.data ? plan.data.weak > 0 : plan.isError) ? '' : 'hidden'}`}
      >
        <Field label="Load in hand" hint="Draws the current where the meter alone would miss a poor joint.">
          <Select value={load} onChange={(e) => setLoad(e.target.value)}>
            {lamps.map((watts) => (
              <option key={watts} value={watts}>
                lamp, {watts} W
              </option>
            ))}
            <option value="resistor">resistor</option>
            <option value="none">none: no test under load</option>
          </Select>
        </Field>
        {load === 'resistor' && (
          <Field label="Resistor, Ω">
            <Input value={resistor} onChange={(e) => setResistor(e.target.value)} inputMode="decimal" />
          </Field>
        )}
      </div>
      <BeyondBare devices={plan.data?.devices ?? []} value={beyond} onChange={setBeyond} />
      {plan.data && <Foresight plan={plan.data} />}
      {proof && (
        <label
          className={`flex cursor-pointer gap-3 border-2 bg-card p-4 ${carryOver ? 'border-copper' : 'border-edge'}`}
        >
          <input
            type="checkbox"
            className="mt-1 size-5 accent-copper"
            checked={carryOver}
            onChange={(e) => setCarryOver(e.target.checked)}
          />
          <span>
            <b className="block">
              Carry over what still holds: {proof.steps} of {plan.data?.steps} steps
            </b>
            From {proof.from}. {proof.reasons.join(' ')} The pack names each step that was carried over.
          </span>
        </label>
      )}
      {standing && (
        <Notice tone="mind">
          <p>
            <b>This sets a run aside.</b> {standing.text} Its readings stay in the record, and what it found holds until
            it is proven. Nothing more can be added to it.
          </p>
          <label className="mt-2 flex min-h-11 cursor-pointer items-center gap-3 font-bold">
            <input
              type="checkbox"
              className="size-5 accent-copper"
              checked={asked}
              onChange={(e) => setAsked(e.target.checked)}
              required
            />
            Set that run aside and start another
          </label>
        </Notice>
      )}
      <ErrorNotice error={start.error ?? plan.error} />
      <Button changes kind="main" type="submit" disabled={start.isPending || (standing !== null && !asked)}>
        Make the plan and start
      </Button>
    </form>
  );
}
