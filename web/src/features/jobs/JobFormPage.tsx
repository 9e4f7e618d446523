import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type SubmitEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { api, given, Refused, type Schemas } from '../../api/client';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { Frame } from '../../ui/Frame';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';

type Fields = Schemas['JobRequest'];

const empty: Fields = { customer: '', machine: '', promised: null, assignedId: null, waitingFor: null };

export function NewJobPage() {
  return (
    <Frame title="New job">
      <JobForm start={empty} />
    </Frame>
  );
}

/** Changes what was said about a job; what somebody else changed meanwhile is shown, never overwritten. */
export function EditJobPage() {
  const id = Number(useParams().id);
  const job = useQuery({
    queryKey: ['job', id, 'edit'],
    queryFn: () => given(api.GET('/api/jobs/{id}', { params: { path: { id } } })),
    gcTime: 0,
  });
  return (
    <Frame title={`Job ${id}`} note="what is said about it">
      <ErrorNotice error={job.error} />
      {job.isPending && <Loading what="the job" />}
      {job.data && <JobForm key={job.data.version} start={job.data} job={job.data} />}
    </Frame>
  );
}

function JobForm({ start, job }: { start: Fields; job?: Schemas['JobView'] }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [fields, setFields] = useState(start);
  const people = useQuery({ queryKey: ['people'], queryFn: () => given(api.GET('/api/people')) });
  const save = useMutation({
    mutationFn: (body: Fields) =>
      job
        ? given(
            api.PUT('/api/jobs/{id}', {
              params: { path: { id: job.id } },
              headers: { 'If-Match': `"${job.version}"` },
              body,
            }),
          )
        : given(api.POST('/api/jobs', { body })),
    onSuccess: async (saved) => {
      await client.invalidateQueries({ queryKey: ['jobs'] });
      await client.invalidateQueries({ queryKey: ['job', saved.id] });
      await navigate(saved.revisionId ? `/jobs/${saved.id}/loom` : `/jobs/${saved.id}/import`);
    },
  });
  const problems = save.error instanceof Refused ? save.error.problems : [];
  const wrong = (at: string) => problems.find((p) => p.at === at)?.message;
  const set = (change: Partial<Fields>) => setFields({ ...fields, ...change });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    const { customer, machine, promised, assignedId, waitingFor } = fields;
    save.mutate({ customer, machine, promised, assignedId, waitingFor });
  };
  const overtaken = save.error instanceof Refused && save.error.status === 412;
  return (
    <form onSubmit={submit} className="mx-auto grid w-full max-w-3xl gap-5 p-6 sm:grid-cols-2">
      <Field label="Customer" error={wrong('/customer')}>
        <Input value={fields.customer} onChange={(e) => set({ customer: e.target.value })} required maxLength={120} />
      </Field>
      <Field label="Machine" hint="As the customer calls it" error={wrong('/machine')}>
        <Input value={fields.machine} onChange={(e) => set({ machine: e.target.value })} required maxLength={120} />
      </Field>
      <Field label="Promised" error={wrong('/promised')}>
        <Input type="date" value={fields.promised ?? ''} onChange={(e) => set({ promised: e.target.value || null })} />
      </Field>
      <Field label="Who has it" error={wrong('/assignedId')}>
        <Select value={fields.assignedId ?? ''} onChange={(e) => set({ assignedId: e.target.value || null })}>
          <option value="">nobody yet</option>
          {people.data?.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}, {p.role}
            </option>
          ))}
        </Select>
      </Field>
      <div className="sm:col-span-2">
        <Field label="Waits for" hint="Leave empty when nothing outside the shop holds it" error={wrong('/waitingFor')}>
          <Input
            value={fields.waitingFor ?? ''}
            onChange={(e) => set({ waitingFor: e.target.value || null })}
            maxLength={200}
          />
        </Field>
      </div>
      <div className="space-y-4 sm:col-span-2">
        {overtaken ? (
          <Notice tone="mind">
            <p className="font-bold">{save.error?.message}</p>
            <Button
              className="mt-2"
              onClick={() => void client.invalidateQueries({ queryKey: ['job', job?.id, 'edit'] })}
            >
              Show theirs
            </Button>
          </Notice>
        ) : (
          <ErrorNotice error={save.error} />
        )}
        <Button kind="main" type="submit" disabled={save.isPending}>
          {job ? 'Store changes' : 'Make the job'}
        </Button>
      </div>
    </form>
  );
}
