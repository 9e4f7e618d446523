import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, begunFrom, given, Refused, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Input } from '../../ui/Controls';
import { ShopFrame } from '../../ui/ShopFrame';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Overtaken } from '../../ui/Overtaken';
import { PlainFace } from '../../ui/PlainFace';
import { FamilyForm } from './FamilyForm';
import { FindCavity } from './FindCavity';
import { SynonymsPanel } from './SynonymsPanel';

/** The shop's connector families, and the words that mean the same here. */
export function LibraryPage() {
  const [search, setSearch] = useSearchParams();
  const families = useQuery({
    queryKey: keys.families,
    queryFn: () => given(api.GET('/api/families')),
    ...begunFrom,
  });
  const [find, setFind] = useState('');
  const id = search.get('family');
  const shown = (families.data ?? []).filter((f) =>
    `${f.id} ${f.title} ${f.cavities} ${f.keying ?? ''}`.toLowerCase().includes(find.toLowerCase()),
  );
  const chosen = families.data?.find((f) => f.id === id);
  return (
    <ShopFrame title="Library" note="families and words">
      <div className="grid flex-1 gap-5 p-5 lg:grid-cols-[20rem_1fr]">
        <div className="space-y-3">
          <Input
            aria-label="Find a family"
            placeholder="Title, id, cavities, keying …"
            value={find}
            onChange={(e) => setFind(e.target.value)}
          />
          <div className="flex gap-2">
            <Button onClick={() => setSearch({ family: '+' })}>New family</Button>
            <Button onClick={() => setSearch({ words: 'same' })}>Same words</Button>
          </div>
          <ErrorNotice error={families.error} />
          {families.isPending && <Loading what="the families" />}
          <ul aria-label="Families" className="max-h-[70vh] overflow-y-auto border-2 border-edge bg-card">
            {shown.map((f) => (
              <li key={f.id}>
                <button
                  type="button"
                  aria-pressed={f.id === id}
                  onClick={() => setSearch({ family: f.id })}
                  className={`grid min-h-11 w-full cursor-pointer grid-cols-[3rem_1fr] items-center border-b border-line px-3 text-left ${f.id === id ? 'bg-well' : ''}`}
                >
                  <span className="font-mono text-lg">{f.cavities}</span>
                  <span>
                    {f.title} <span className="block font-mono text-sm text-soft">{f.id}</span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </div>
        <div className="min-w-0">
          {search.get('words') !== null ? (
            <SynonymsPanel />
          ) : id === '+' ? (
            <NewFamily onDone={(f) => setSearch({ family: f })} />
          ) : chosen ? (
            <FamilyPanel key={`${chosen.id}${chosen.version}`} family={chosen} />
          ) : (
            <p className="p-6 text-lg text-soft">Choose a family to see its faces, or make a new one.</p>
          )}
        </div>
      </div>
    </ShopFrame>
  );
}

type Body = Readonly<Record<string, unknown>>;

function useSave(onDone: (id: string) => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ body, over }: { body: Body; over: number | null }) =>
      given(
        api.PUT('/api/families/{id}', {
          params: { path: { id: String(body.id) } },
          headers: over === null ? {} : { 'If-Match': `"${over}"` },
          body,
        }),
      ),
    onSuccess: async (saved) => {
      await client.invalidateQueries({ queryKey: keys.families });
      onDone(saved.id);
    },
  });
}

const said = (value: unknown) => (value === undefined ? 'none' : JSON.stringify(value));

/** Somebody else changed the family first: what differs, and a choice. */
function BothSides({
  family,
  mine,
  onStore,
}: {
  family: Schemas['FamilyView'];
  mine: Body;
  onStore: (again: { body: Body; over: number }) => void;
}) {
  const client = useQueryClient();
  const theirs = useQuery({
    queryKey: keys.familyTheirs(family.id),
    queryFn: () => given(api.GET('/api/families/{id}', { params: { path: { id: family.id } } })),
    gcTime: 0,
  });
  if (!theirs.data) return <Loading what="the other change" />;
  const other = theirs.data.body as Body;
  const fields = [...new Set([...Object.keys(other), ...Object.keys(mine)])].filter(
    (f) => JSON.stringify(other[f]) !== JSON.stringify(mine[f]),
  );
  return (
    <Overtaken
      said="Somebody else changed this family in the meantime. Nothing of yours was stored yet."
      differs={fields.map((f) => `${f}: theirs ${said(other[f])}, yours ${said(mine[f])}`)}
      onStore={() => onStore({ body: mine, over: theirs.data.version })}
      onTake={() => void client.invalidateQueries({ queryKey: keys.families })}
    />
  );
}

function NewFamily({ onDone }: { onDone: (id: string) => void }) {
  const save = useSave(onDone);
  return (
    <section className="space-y-4">
      <h2 className="text-2xl font-bold">New family</h2>
      <FamilyForm action="Add to the library" onDone={(body) => save.mutate({ body, over: null })} error={save.error} />
    </section>
  );
}

function FamilyPanel({ family }: { family: Schemas['FamilyView'] }) {
  const [ringed, setRinged] = useState<string>();
  const [changing, setChanging] = useState(false);
  const save = useSave(() => setChanging(false));
  const overtaken = save.error instanceof Refused && save.error.status === 412;
  if (changing) {
    return (
      <>
        <FamilyForm
          start={family.body as Record<string, unknown>}
          action="Store changes"
          onDone={(body) => save.mutate({ body, over: family.version })}
          onCancel={() => setChanging(false)}
          error={overtaken ? null : save.error}
        />
        {overtaken && save.variables && <BothSides family={family} mine={save.variables.body} onStore={save.mutate} />}
      </>
    );
  }
  return (
    <section className="space-y-4">
      <div className="flex flex-wrap items-baseline gap-4">
        <h2 className="text-2xl font-bold">{family.title}</h2>
        <span className="text-soft">
          {family.cavities} {family.cavities === 1 ? 'cavity' : 'cavities'}
          {family.sealed ? ', sealed' : ''}
          {family.keying ? `, keying ${family.keying}` : ''}
        </span>
        <span className="ml-auto">
          <Button onClick={() => setChanging(true)}>Change</Button>
        </span>
      </div>
      <FindCavity familyId={family.id} onFound={setRinged} />
      <div className="grid items-start gap-4 2xl:grid-cols-2">
        <PlainFace title="Seen from the mating face" face={family.matingFace} ringed={ringed} onPick={setRinged} />
        <PlainFace title="Seen from the wire side" face={family.wireSide} ringed={ringed} onPick={setRinged} />
      </div>
      <p className="text-sm text-soft">Looms hold their own copy: a change here changes no loom that was tested.</p>
    </section>
  );
}
