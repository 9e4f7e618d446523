import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';

const ways: readonly [Schemas['CableWay'], string][] = [
  ['straight', 'straight: 1 with 1, 2 with 2'],
  ['crossed', 'crossed: 1 with 2, 2 with 1, pair by pair'],
  ['rolled', 'rolled: 1 with the last'],
];

/** A cable with two plugs, by how many pins and how they cross over. */
export function CableForm({ onMade }: { onMade: (what: string, preview: Schemas['ImportPreview']) => void }) {
  const { job } = useJob();
  const [name, setName] = useState(job.machine);
  const [one, setOne] = useState('A');
  const [other, setOther] = useState('B');
  const [pins, setPins] = useState('');
  const [way, setWay] = useState<Schemas['CableWay']>('straight');
  const [length, setLength] = useState('');
  const make = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/jobs/{id}/cable', {
          params: { path: { id: job.id } },
          body: { name, one, other, pins: Number(pins), way, lengthMm: length ? Number(length) : null, mm2: null },
        }),
      ),
    onSuccess: (preview) => onMade(name, preview),
  });
  return (
    <form
      className="grid gap-4 sm:grid-cols-3"
      onSubmit={(e) => {
        e.preventDefault();
        make.mutate();
      }}
    >
      <Field label="Pins of each plug">
        <Input value={pins} onChange={(e) => setPins(e.target.value)} inputMode="numeric" pattern="[0-9]+" required />
      </Field>
      <Field label="Joined">
        <Select value={way} onChange={(e) => setWay(e.target.value as Schemas['CableWay'])}>
          {ways.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </Select>
      </Field>
      <Field label="Length (mm)" hint="Empty: a range is taken.">
        <Input value={length} onChange={(e) => setLength(e.target.value)} inputMode="decimal" pattern="[0-9.]*" />
      </Field>
      <Field label="Name">
        <Input value={name} onChange={(e) => setName(e.target.value)} maxLength={120} required />
      </Field>
      <Field label="One plug">
        <Input value={one} onChange={(e) => setOne(e.target.value)} maxLength={40} required />
      </Field>
      <Field label="Other plug">
        <Input value={other} onChange={(e) => setOther(e.target.value)} maxLength={40} required />
      </Field>
      <div className="space-y-3 sm:col-span-3">
        <Button type="submit" disabled={make.isPending}>
          Show the cable
        </Button>
        <ErrorNotice error={make.error} />
      </div>
    </form>
  );
}
