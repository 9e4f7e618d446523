import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type SubmitEvent } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';

/** Records a fix: what was done and where hands were; the server says what must be measured again. */
export function FixForm({
  job,
  run,
  fault,
  works,
  practice,
}: {
  job: Schemas['JobView'];
  run: number;
  fault: Schemas['FaultView'];
  works: readonly string[];
  practice: boolean;
}) {
  const client = useQueryClient();
  const known = fault.suggested.find((c) => c.title === fault.cause?.words)?.places ?? [
    ...(fault.black ? [fault.black] : []),
    ...(fault.red ? [fault.red] : []),
  ];
  const [did, setDid] = useState(works[0] ?? '');
  const [places, setPlaces] = useState(known.join(', '));
  const [minutes, setMinutes] = useState('');
  const [parts, setParts] = useState('');
  const [note, setNote] = useState('');
  const list = places
    .split(/[,;\s]+/)
    .map((p) => p.trim())
    .filter(Boolean);
  const fix = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/runs/{id}/faults/{fault}/fix', {
          params: { path: { id: run, fault: fault.number } },
          body: {
            key: uuidv7(),
            did,
            places: list,
            minutes: minutes === '' ? null : Number(minutes),
            parts: parts || null,
            note: note || null,
          },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.faults(job.id) });
      await client.invalidateQueries({ queryKey: keys.bench(job.id) });
    },
  });
  const repair = useMutation({
    mutationFn: () =>
      given(api.POST('/api/runs/{id}/repair', { params: { path: { id: run } }, body: { places: list } })),
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    fix.mutate();
  };
  return (
    <form onSubmit={submit} className="grid gap-4 sm:grid-cols-2">
      <Field label={fault.fix ? 'Done once more' : 'Done'}>
        <Select value={did} onChange={(e) => setDid(e.target.value)}>
          {works.map((w) => (
            <option key={w}>{w}</option>
          ))}
        </Select>
      </Field>
      <Field label="Minutes used">
        <Input type="number" min={0} max={10000} value={minutes} onChange={(e) => setMinutes(e.target.value)} />
      </Field>
      <Field label="Where hands were" hint="Cavities, wires and splices; they and their neighbours are measured again.">
        <Input value={places} onChange={(e) => setPlaces(e.target.value)} required />
      </Field>
      <Field label="Parts used">
        <Input value={parts} onChange={(e) => setParts(e.target.value)} maxLength={400} />
      </Field>
      <Field label="Note">
        <Input value={note} onChange={(e) => setNote(e.target.value)} maxLength={1000} />
      </Field>
      <div className="space-y-3 sm:col-span-2">
        {practice && repair.data && (
          <Notice tone={repair.data.repaired > 0 ? 'good' : 'mind'}>
            {repair.data.repaired > 0
              ? 'Repaired in the practice loom. Record the fix and measure again.'
              : 'Nothing was wrong at these places in the practice loom. Look again.'}
          </Notice>
        )}
        <ErrorNotice error={repair.error ?? fix.error} />
        <div className="flex flex-wrap gap-3">
          {practice && (
            <Button changes disabled={repair.isPending || list.length === 0} onClick={() => repair.mutate()}>
              Repair this in the practice loom
            </Button>
          )}
          <Button changes kind="main" type="submit" disabled={fix.isPending}>
            Record the fix
          </Button>
        </div>
      </div>
    </form>
  );
}
