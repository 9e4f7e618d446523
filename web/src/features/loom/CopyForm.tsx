import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';

/** A copy of a loom of the shop under a new name. */
export function CopyForm({ onMade }: { onMade: (what: string, preview: Schemas['ImportPreview']) => void }) {
  const { job } = useJob();
  const [from, setFrom] = useState('');
  const [name, setName] = useState(job.machine);
  const looms = useQuery({ queryKey: keys.copies, queryFn: () => given(api.GET('/api/looms')) });
  const copy = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/jobs/{id}/copy', {
          params: { path: { id: job.id }, query: { revision: Number(from), name } },
        }),
      ),
    onSuccess: (preview) => onMade(name, preview),
  });
  if (looms.isPending) return <Loading what="the shop’s looms" />;
  if (looms.data?.length === 0) return <p className="text-soft">The shop has no loom yet.</p>;
  return (
    <form
      className="grid gap-4 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault();
        copy.mutate();
      }}
    >
      <Field label="Loom and revision">
        <Select value={from} onChange={(e) => setFrom(e.target.value)} required>
          <option value="">choose one</option>
          {looms.data?.map((l) => (
            <option key={l.id} value={l.id}>
              {l.name}, {l.revision} · job {l.jobId}
            </option>
          ))}
        </Select>
      </Field>
      <Field label="Name of the copy">
        <Input value={name} onChange={(e) => setName(e.target.value)} maxLength={120} required />
      </Field>
      <div className="space-y-3 sm:col-span-2">
        <Button type="submit" disabled={copy.isPending || !from}>
          Show the copy
        </Button>
        <ErrorNotice error={copy.error ?? looms.error} />
      </div>
    </form>
  );
}
