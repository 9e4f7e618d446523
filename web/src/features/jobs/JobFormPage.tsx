import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type SubmitEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { api, begunFrom, given, Refused, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { Frame } from '../../ui/Frame';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Overtaken } from '../../ui/Overtaken';

type Fields = Schemas['JobRequest'];

const empty: Fields = {
  customer: '',
  machine: '',
  promised: null,
  assignedId: null,
  waitingFor: null,
  language: 'en',
};

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
    queryKey: keys.jobEdit(id),
    queryFn: () => given(api.GET('/api/jobs/{id}', { params: { path: { id } } })),
    ...begunFrom,
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
  const people = useQuery({ queryKey: keys.people, queryFn: () => given(api.GET('/api/people')) });
  const languages = useQuery({ queryKey: keys.languages, queryFn: () => given(api.GET('/api/languages')) });
  const save = useMutation({
    mutationFn: ({ body, over }: { body: Fields; over?: number }) =>
      job
        ? given(
            api.PUT('/api/jobs/{id}', {
              params: { path: { id: job.id } },
              headers: { 'If-Match': `"${over ?? job.version}"` },
              body,
            }),
          )
        : given(api.POST('/api/jobs', { body })),
    onSuccess: async (saved) => {
      await client.invalidateQueries({ queryKey: keys.jobs });
      await client.invalidateQueries({ queryKey: keys.job(saved.id) });
      await navigate(saved.revisionId ? `/jobs/${saved.id}/loom` : `/jobs/${saved.id}/import`);
    },
  });
  const problems = save.error instanceof Refused ? save.error.problems : [];
  const wrong = (at: string) => problems.find((p) => p.at === at)?.message;
  const set = (change: Partial<Fields>) => setFields({ ...fields, ...change });
  const store = (over?: number) => {
    const { customer, machine, promised, assignedId, waitingFor, language = null } = fields;
    save.mutate({
      body: { customer, machine, promised, assignedId, waitingFor, language },
      ...(over === undefined ? {} : { over }),
    });
  };
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    store();
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
          {people.data
            ?.filter((p) => p.mayWork || p.id === start.assignedId)
            .map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}, {p.role}
              </option>
            ))}
        </Select>
      </Field>
      <Field label="Language of the handover pack" hint="What the customer reads" error={wrong('/language')}>
        <Select value={fields.language ?? 'en'} onChange={(e) => set({ language: e.target.value })}>
          {languages.data?.map((l) => (
            <option key={l.code} value={l.code}>
              {l.title}
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
        {overtaken && job ? (
          <BothSides
            job={job.id}
            said={save.error?.message ?? ''}
            mine={fields}
            people={people.data ?? []}
            onStore={store}
            onTake={() => void client.invalidateQueries({ queryKey: keys.jobEdit(job.id) })}
          />
        ) : (
          <ErrorNotice error={save.error} />
        )}
        <Button changes kind="main" type="submit" disabled={save.isPending}>
          {job ? 'Store changes' : 'Make the job'}
        </Button>
      </div>
    </form>
  );
}

const labels: [keyof Fields, string][] = [
  ['customer', 'Customer'],
  ['machine', 'Machine'],
  ['promised', 'Promised'],
  ['assignedId', 'Who has it'],
  ['waitingFor', 'Waits for'],
  ['language', 'Language of the pack'],
];

/** What somebody else stored meanwhile, beside what this person wrote, and the choice between them. */
function BothSides({
  job,
  said,
  mine,
  people,
  onStore,
  onTake,
}: {
  job: number;
  said: string;
  mine: Fields;
  people: readonly Schemas['WorkerView'][];
  onStore: (over: number) => void;
  onTake: () => void;
}) {
  const theirs = useQuery({
    queryKey: keys.jobTheirs(job),
    queryFn: () => given(api.GET('/api/jobs/{id}', { params: { path: { id: job } } })),
    gcTime: 0,
  });
  if (!theirs.data) return <Loading what="the other change" />;
  const words = (field: keyof Fields, value: string | null | undefined) =>
    value === null || value === undefined || value === ''
      ? 'nothing'
      : field === 'assignedId'
        ? (people.find((p) => p.id === value)?.name ?? value)
        : value;
  return (
    <Overtaken
      said={said}
      differs={labels
        .filter(([field]) => theirs.data[field] !== mine[field])
        .map(
          ([field, label]) =>
            `${label}: theirs ${words(field, theirs.data[field])}, yours ${words(field, mine[field])}`,
        )}
      onStore={() => onStore(theirs.data.version)}
      onTake={onTake}
    />
  );
}
