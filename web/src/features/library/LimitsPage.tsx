import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, begunFrom, given, Refused, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Overtaken } from '../../ui/Overtaken';
import { ShopFrame } from '../../ui/ShopFrame';
import { useSession } from '../session/useSession';
import {
  asksWords,
  bench,
  cable,
  copper,
  differences,
  links,
  papers,
  numbersOf,
  shown,
  written,
  type Asks,
  type Figure,
  type TableName,
  type Written,
} from './figures';
import { PackTemplate } from './PackTemplate';
import { PowerUpTemplate } from './PowerUpTemplate';
import { RowsTable } from './RowsTable';

type View = Schemas['LimitsView'];

/** The figures that the shop judges by. */
export function LimitsPage() {
  const stored = useQuery({
    queryKey: keys.limits,
    queryFn: () => given(api.GET('/api/limits')),
    ...begunFrom,
  });
  return (
    <ShopFrame title="Limits">
      {stored.isPending ? (
        <Loading what="the limits" />
      ) : stored.isError ? (
        <ErrorNotice error={stored.error} />
      ) : (
        <Form key={stored.data.version} stored={stored.data} />
      )}
    </ShopFrame>
  );
}

function Form({ stored }: { stored: View }) {
  const client = useQueryClient();
  const { data: session } = useSession();
  const lead = session?.person?.role === 'lead';
  const [mine, setMine] = useState<Written>(() => written(stored.limits));
  const { figures, insulation } = mine;
  const save = useMutation({
    mutationFn: (over: number) =>
      given(api.PUT('/api/limits', { headers: { 'If-Match': `"${over}"` }, body: numbersOf(mine) })),
    onSuccess: (now) => client.setQueryData(keys.limits, now),
  });
  const problems = save.error instanceof Refused ? save.error.problems : [];
  const wrong = (at: string) => problems.find((p) => p.at === at)?.message;
  const overtaken = save.error instanceof Refused && save.error.status === 412;
  const list = (of: Figure[]) => (
    <div className="grid items-end gap-4 sm:grid-cols-2">
      {of.map((f) => (
        <Field key={f.at} label={`${f.label}, ${f.unit}`} hint={`usual: ${shown(f, stored.usual)}`} error={wrong(f.at)}>
          <Input
            inputMode="decimal"
            readOnly={!lead}
            value={figures.get(f.at) ?? ''}
            onChange={(e) => setMine({ ...mine, figures: new Map(figures).set(f.at, e.target.value) })}
          />
        </Field>
      ))}
    </div>
  );
  const table = (name: TableName) => (
    <RowsTable
      name={name}
      rows={mine.tables[name]}
      lead={lead}
      wrong={wrong}
      onChange={(to) => setMine({ ...mine, tables: { ...mine.tables, [name]: to } })}
    />
  );
  return (
    <form
      className="mx-auto w-full max-w-5xl space-y-6 p-6"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate(stored.version);
      }}
    >
      <p className="text-soft">
        {stored.changedBy
          ? `As ${stored.changedBy} left them on ${new Date(stored.changedAt ?? '').toLocaleString()}.`
          : 'Nobody has changed the usual ones.'}{' '}
        A run keeps the limits it was started with.{!lead && ' A lead can change them.'}
      </p>
      <div className="grid gap-8 lg:grid-cols-2">
        <div className="space-y-6">
          <section aria-label="What a wire reads" className="space-y-3">
            <h2 className="text-xl font-bold">What a wire reads</h2>
            {list(copper)}
          </section>
          <section aria-label="At the bench" className="space-y-3">
            <h2 className="text-xl font-bold">At the bench</h2>
            {list(bench)}
            <fieldset className="space-y-1">
              <legend>Asked of every run; less is a lead’s decision</legend>
              {(Object.keys(asksWords) as (keyof Asks)[]).map((a) => (
                <label key={a} className="flex min-h-11 items-center gap-3">
                  <input
                    type="checkbox"
                    className="size-5 accent-copper"
                    checked={mine.asks[a]}
                    disabled={!lead}
                    onChange={(e) => setMine({ ...mine, asks: { ...mine.asks, [a]: e.target.checked } })}
                  />
                  {asksWords[a]}
                </label>
              ))}
            </fieldset>
          </section>
          <section aria-label="What cable and fuses carry" className="space-y-3">
            <h2 className="text-xl font-bold">What cable and fuses carry</h2>
            {list(cable)}
            <Field label="Insulation for, °C" hint="usual: 105" error={wrong('/cable/insulationC')}>
              <Select value={insulation} onChange={(e) => lead && setMine({ ...mine, insulation: e.target.value })}>
                {['85', '105', '125'].map((c) => (
                  <option key={c}>{c}</option>
                ))}
              </Select>
            </Field>
          </section>
          {table('sizes')}
          <PowerUpTemplate mine={mine} lead={lead} wrong={wrong} onChange={(power) => setMine({ ...mine, power })} />
        </div>
        <div className="space-y-6">
          {table('carries')}
          {table('forces')}
          <section aria-label="Links to packs" className="space-y-3">
            <h2 className="text-xl font-bold">Links to packs</h2>
            {list(links)}
          </section>
          <section aria-label="Papers that do not say it" className="space-y-3">
            <h2 className="text-xl font-bold">Papers that do not say it</h2>
            <p className="text-soft">What is taken for a wire whose length or section nobody wrote down.</p>
            {list(papers)}
          </section>
          <PackTemplate
            sections={stored.packSections}
            pack={mine.pack}
            lead={lead}
            wrong={wrong('/pack/leftOut') ?? wrong('/pack/paper') ?? wrong('/pack/labels')}
            onChange={(pack) => setMine({ ...mine, pack })}
          />
        </div>
      </div>
      {overtaken ? (
        <BothSides
          said={save.error?.message ?? ''}
          mine={mine}
          onStore={(over) => save.mutate(over)}
          onTake={() => void client.invalidateQueries({ queryKey: keys.limits })}
        />
      ) : (
        <ErrorNotice error={save.error} />
      )}
      {lead && (
        <Button changes kind="main" type="submit" disabled={save.isPending}>
          Store the limits
        </Button>
      )}
    </form>
  );
}

/** What somebody else stored meanwhile, beside what this person wrote, and the choice between them. */
function BothSides({
  said,
  mine,
  onStore,
  onTake,
}: {
  said: string;
  mine: Written;
  onStore: (over: number) => void;
  onTake: () => void;
}) {
  const theirs = useQuery({
    queryKey: keys.limitsTheirs,
    queryFn: () => given(api.GET('/api/limits')),
    gcTime: 0,
  });
  if (!theirs.data) return <Loading what="the other change" />;
  return (
    <Overtaken
      said={said}
      differs={differences(written(theirs.data.limits), mine)}
      onStore={() => onStore(theirs.data.version)}
      onTake={onTake}
    />
  );
}
