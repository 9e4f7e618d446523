import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, given, Refused } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { ShopFrame } from '../../ui/ShopFrame';
import { Tick } from '../../ui/Tick';
import { PinoutSelect, usePinouts } from '../book/PinoutSelect';

/** Merges of the shop: a chassis sheet with an engine sheet, or a loom with a new controller. */
export function MergesPage() {
  const merges = useQuery({ queryKey: keys.merges, queryFn: () => given(api.GET('/api/merges')) });
  return (
    <ShopFrame title="Merge" note="two pinouts become one loom">
      <div className="mx-auto grid w-full max-w-7xl gap-6 p-5 lg:grid-cols-2">
        <section aria-label="Merges" className="space-y-3">
          <h2 className="text-2xl font-bold">Begun so far</h2>
          <ErrorNotice error={merges.error} />
          {merges.isPending && <Loading what="the merges" />}
          {merges.data?.length === 0 && (
            <p className="border-2 border-dashed border-edge p-8 text-center text-lg">
              None yet. Choose two pinouts beside: what both have is matched by function, then you decide about the
              rest.
            </p>
          )}
          <ul className="grid gap-3">
            {merges.data?.map((m) => (
              <li key={m.id}>
                <Link
                  to={`/merges/${m.id}`}
                  className="block border-2 border-edge bg-card px-4 py-3 hover:border-copper"
                >
                  <span className="block text-lg font-bold">{m.title}</span>
                  <span className="text-soft">
                    job {m.jobId}, {m.pairs} pairs accepted, {m.made ? 'loom made' : 'loom not made yet'}; {m.madeBy}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
        <NewMerge />
      </div>
    </ShopFrame>
  );
}

function NewMerge() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const pinouts = usePinouts();
  const jobs = useQuery({
    queryKey: keys.jobsFirst,
    queryFn: () => given(api.GET('/api/jobs', { params: { query: {} } })),
  });
  const [title, setTitle] = useState('');
  const [jobId, setJob] = useState(0);
  const [left, setLeft] = useState('');
  const [right, setRight] = useState('');
  const [plugs, setPlugs] = useState<readonly string[]>([]);
  const entry = pinouts.data?.find((p) => p.key === left);
  const add = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/merges', {
          body: { title, jobId, left: entry?.kind === 'loom' ? `${left}:${plugs.join(',')}` : left, right },
        }),
      ),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: keys.merges });
      await navigate(`/merges/${made.id}`);
    },
  });
  const problems = add.error instanceof Refused ? add.error.problems : [];
  const wrong = (at: string) => problems.find((p) => p.at === at)?.message;
  return (
    <form
      className="space-y-4 border-2 border-edge bg-card p-5"
      onSubmit={(e) => {
        e.preventDefault();
        add.mutate();
      }}
    >
      <h2 className="text-2xl font-bold">Begin a merge</h2>
      <Field label="Title" error={wrong('/title')}>
        <Input value={title} required maxLength={120} onChange={(e) => setTitle(e.target.value)} />
      </Field>
      <Field label="For the job" hint="The new loom becomes a draft of this job" error={wrong('/jobId')}>
        <Select value={jobId} required onChange={(e) => setJob(Number(e.target.value))}>
          <option value={0}>choose a job</option>
          {jobs.data?.jobs.map((j) => (
            <option key={j.id} value={j.id}>
              {j.id} {j.machine}
            </option>
          ))}
        </Select>
      </Field>
      <PinoutSelect
        label="Left: what is there"
        hint="The chassis sheet, or the loom that gets a new controller"
        value={left}
        entries={pinouts.data ?? []}
        onChange={(key) => {
          setLeft(key);
          setPlugs(pinouts.data?.find((p) => p.key === key)?.plugs.slice(0, 2) ?? []);
        }}
      />
      {entry?.kind === 'loom' && (
        <fieldset className="max-h-40 overflow-y-auto border border-line p-2">
          <legend className="px-1 font-bold">Plugs that are replaced</legend>
          <div className="flex flex-wrap gap-x-4">
            {entry.plugs.map((p) => (
              <label key={p} className="flex min-h-9 items-center gap-2 font-mono">
                <Tick
                  checked={plugs.includes(p)}
                  onChange={(now) => setPlugs(now ? [...plugs, p] : plugs.filter((x) => x !== p))}
                />
                {p}
              </label>
            ))}
          </div>
        </fieldset>
      )}
      <PinoutSelect
        label="Right: what comes"
        hint="The engine sheet, or the new controller"
        value={right}
        entries={pinouts.data ?? []}
        onChange={setRight}
      />
      <ErrorNotice error={add.error} />
      <Button changes kind="main" type="submit" disabled={!title || !jobId || !left || !right || add.isPending}>
        Match them
      </Button>
    </form>
  );
}
