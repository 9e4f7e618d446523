import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type SubmitEvent } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { Button, Field, Select } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';

const ways: { value: Schemas['Isolation']; label: string; text: string }[] = [
  {
    value: 'neighbours',
    label: 'Neighbours',
    text: 'Two probes, no fixture: only circuits that stand next to each other in a face or run twisted together.',
  },
  {
    value: 'thorough',
    label: 'Thorough',
    text: 'Each circuit against all others, joined by a shorting plug or a switched fixture.',
  },
];

/** Before a run: cautions, the meter in hand, and how isolation is to be proven. */
export function StartRun({
  job,
  bench,
  loomName,
}: {
  job: Schemas['JobView'];
  bench: Schemas['BenchView'];
  loomName: string;
}) {
  const client = useQueryClient();
  const fitting =
    bench.meters.find((m) => m.remote && m.name.toLowerCase().includes(loomName.toLowerCase())) ?? bench.meters[0];
  const [meterId, setMeter] = useState(fitting?.id ?? 0);
  const [isolation, setIsolation] = useState<Schemas['Isolation']>('neighbours');
  const [carryOver, setCarryOver] = useState(true);
  const carry = useQuery({
    queryKey: ['carry', job.id, job.revisionId, meterId, isolation],
    queryFn: () =>
      given(api.GET('/api/jobs/{id}/carry', { params: { path: { id: job.id }, query: { meterId, isolation } } })),
    enabled: meterId > 0,
  });
  const proof = carry.data?.from ? carry.data : null;
  const start = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/jobs/{id}/runs', {
          params: { path: { id: job.id } },
          body: { meterId, isolation, carryOver: carryOver && proof !== null },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['bench', job.id] });
      await client.invalidateQueries({ queryKey: ['job', job.id] });
    },
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
              {m.remote ? 'answers on the network' : 'readings are typed'}
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
              Carry over what still holds: {proof.steps} of {proof.total} steps
            </b>
            From {proof.from}. {proof.reasons.join(' ')} The pack names each step that was carried over.
          </span>
        </label>
      )}
      <ErrorNotice error={start.error} />
      <Button kind="main" type="submit" disabled={start.isPending}>
        Make the plan and start
      </Button>
    </form>
  );
}
