import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { api, begunFrom, given, Refused, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button, Input, Select } from '../../ui/Controls';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';
import { Overtaken } from '../../ui/Overtaken';
import { PlainFace } from '../../ui/PlainFace';
import { ShopFrame } from '../../ui/ShopFrame';
import { ReadLines } from './ReadLines';
import { SheetEditor } from './SheetEditor';
import { Trust } from './Trust';
import { sources, ways } from './words';

/** One sheet: its plugs and lines, who vouches for which, and the ways on: change it, work down loose wires. */
export function SheetPage() {
  const id = Number(useParams().id);
  const sheet = useQuery({
    queryKey: keys.sheet(id),
    queryFn: () => given(api.GET('/api/sheets/{id}', { params: { path: { id } } })),
    ...begunFrom,
  });
  const [changing, setChanging] = useState(false);
  const title = sheet.data?.title ?? 'Sheet';
  return (
    <ShopFrame title={title} note={sheet.data && `${sources[sheet.data.source] ?? ''}, version ${sheet.data.version}`}>
      <div className="flex min-h-0 flex-1 flex-col gap-4 p-5">
        <ErrorNotice error={sheet.error} />
        {sheet.isPending && <Loading what="the sheet" />}
        {sheet.data &&
          (changing || sheet.data.lines.length + sheet.data.plugs.length === 0 ? (
            <Changing key={sheet.data.version} sheet={sheet.data} onDone={() => setChanging(false)} />
          ) : (
            <Reading sheet={sheet.data} onChange={() => setChanging(true)} />
          ))}
      </div>
    </ShopFrame>
  );
}

function Changing({ sheet, onDone }: { sheet: Schemas['SheetView']; onDone: () => void }) {
  const client = useQueryClient();
  const [body, setBody] = useState<Schemas['SheetRequest']>({
    title: sheet.title,
    source: sheet.source,
    sourceNote: sheet.sourceNote,
    connectors: sheet.plugs.map((p) => p.plug),
    lines: sheet.lines.map((l) => l.line),
  });
  const [version, setVersion] = useState(sheet.version);
  const save = useMutation({
    mutationFn: (over: number) =>
      given(
        api.PUT('/api/sheets/{id}', {
          params: { path: { id: sheet.id } },
          headers: { 'If-Match': `"${over}"` },
          body,
        }),
      ),
    onSuccess: async (stored) => {
      client.setQueryData(keys.sheet(sheet.id), stored);
      await client.invalidateQueries({ queryKey: keys.sheets });
      onDone();
    },
  });
  const overtaken = save.error instanceof Refused && save.error.status === 412;
  const theirs = useQuery({
    queryKey: keys.sheet(sheet.id, 'theirs', version),
    queryFn: () => given(api.GET('/api/sheets/{id}', { params: { path: { id: sheet.id } } })),
    enabled: overtaken,
    gcTime: 0,
  });
  return (
    <>
      <SheetEditor body={body} onChange={setBody} error={overtaken ? null : save.error} />
      <ReadLines plugs={body.connectors} onTake={(lines) => setBody(withLines(body, lines))} />
      {overtaken && theirs.data && (
        <Overtaken
          said={`${theirs.data.changedBy} changed this sheet in the meantime. Nothing of yours was stored, and nothing is lost:`}
          differs={differences(
            theirs.data.lines.map((l) => l.line),
            body.lines,
          )}
          note="Earlier versions of a sheet are kept either way."
          onStore={() => {
            setVersion(theirs.data.version);
            save.mutate(theirs.data.version);
          }}
          onTake={() => void client.invalidateQueries({ queryKey: keys.sheet(sheet.id) }).then(onDone)}
        />
      )}
      <div className="flex gap-3">
        <Button changes kind="main" onClick={() => save.mutate(version)} disabled={save.isPending}>
          Store the sheet
        </Button>
        <Button onClick={onDone}>Leave it as it was</Button>
      </div>
    </>
  );
}

/** Lines read from outside, laid over those of the same cavity; plugs that nobody has named yet are added. */
function withLines(body: Schemas['SheetRequest'], lines: readonly Schemas['SheetLine'][]): Schemas['SheetRequest'] {
  const fresh = new Map(lines.map((l) => [`${l.connector}:${l.cavity}`, l]));
  const kept = body.lines.map((l) => {
    const now = fresh.get(`${l.connector}:${l.cavity}`);
    fresh.delete(`${l.connector}:${l.cavity}`);
    return now ?? l;
  });
  const plugs = new Set(body.connectors.map((c) => c.ref));
  const added = [...new Set(lines.map((l) => l.connector))].filter((ref) => !plugs.has(ref));
  return {
    ...body,
    connectors: [...body.connectors, ...added.map((ref) => ({ ref, title: ref, family: '' }))],
    lines: [...kept, ...fresh.values()],
  };
}

function differences(theirs: readonly Schemas['SheetLine'][], mine: readonly Schemas['SheetLine'][]): string[] {
  const said = new Map(theirs.map((l) => [`${l.connector}:${l.cavity}`, l.function]));
  const own = new Map(mine.map((l) => [`${l.connector}:${l.cavity}`, l.function]));
  const places = [...new Set([...said.keys(), ...own.keys()])].filter((p) => said.get(p) !== own.get(p));
  return places.length === 0
    ? ['The lines’ functions are the same on both; something else differs.']
    : places.map((p) => `${p}: theirs “${said.get(p) ?? 'no line'}”, yours “${own.get(p) ?? 'no line'}”`);
}

function Reading({ sheet, onChange }: { sheet: Schemas['SheetView']; onChange: () => void }) {
  const client = useQueryClient();
  const [search, setSearch] = useSearchParams();
  const [find, setFind] = useState('');
  const [how, setHow] = useState('loom');
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const at = search.get('at') ?? '';
  const [plugRef, cavity] = at.split(':');
  const plug = sheet.plugs.find((p) => p.plug.ref === plugRef) ?? sheet.plugs[0];
  const confirm = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/sheets/{id}/confirmations', {
          params: { path: { id: sheet.id } },
          body: {
            how,
            lines: sheet.lines
              .filter((l) => ticked.has(`${l.line.connector}:${l.line.cavity}`))
              .map((l) => ({ key: uuidv7(), connector: l.line.connector, cavity: l.line.cavity })),
          },
        }),
      ),
    onSuccess: (stored) => {
      client.setQueryData(keys.sheet(sheet.id), stored);
      setTicked(new Set());
    },
  });
  const byNature = new Intl.Collator('en', { numeric: true });
  const shown = sheet.lines
    .filter(
      (l) =>
        (!plug || l.line.connector === plug.plug.ref) &&
        `${l.line.cavity} ${l.line.function} ${l.role} ${l.line.colour} ${l.line.note}`
          .toLowerCase()
          .includes(find.toLowerCase()),
    )
    .sort((a, b) => byNature.compare(a.line.cavity, b.line.cavity));
  const names = new Map(
    sheet.lines
      .filter((l) => l.line.connector === plug?.plug.ref)
      .map((l) => [l.line.cavity, { full: true, words: l.line.function }]),
  );
  const tick = (place: string) =>
    setTicked((now) => {
      const next = new Set(now);
      if (!next.delete(place)) next.add(place);
      return next;
    });
  return (
    <>
      <div className="flex flex-wrap items-center gap-3">
        <div role="group" aria-label="Plugs of this sheet" className="flex flex-wrap gap-2">
          {sheet.plugs.map((p) => (
            <Button
              key={p.plug.ref}
              kind={p === plug ? 'main' : 'plain'}
              aria-pressed={p === plug}
              onClick={() => setSearch({ at: p.plug.ref })}
            >
              {p.plug.ref}
            </Button>
          ))}
        </div>
        <div className="w-64">
          <Input
            aria-label="Find a line"
            placeholder="Cavity, function, kind …"
            value={find}
            onChange={(e) => setFind(e.target.value)}
          />
        </div>
        <span className="ml-auto flex flex-wrap gap-3">
          {plug?.matingFace && (
            <Link
              className="inline-flex min-h-11 items-center underline"
              to={`/book/${sheet.id}/loose/${plug.plug.ref}`}
            >
              Loose wires of {plug.plug.ref}
            </Link>
          )}
          <a
            className="inline-flex min-h-11 items-center underline"
            href={`/api/sheets/${sheet.id}/lines.csv`}
            download
          >
            CSV
          </a>
          <Button changes onClick={onChange}>
            Change the sheet
          </Button>
        </span>
      </div>
      {sheet.warnings.length > 0 && (
        <Notice tone="mind">
          <ul className="list-disc pl-5">
            {sheet.warnings.slice(0, 20).map((w) => (
              <li key={w.at}>{w.message}</li>
            ))}
          </ul>
        </Notice>
      )}
      <div className="grid min-h-0 gap-5 xl:grid-cols-[minmax(20rem,2fr)_3fr]">
        {plug && (
          <section aria-label={`Plug ${plug.plug.ref}`} className="space-y-3">
            <h2 className="text-2xl font-bold">
              {plug.plug.ref} <span className="text-lg font-normal text-soft">{plug.plug.title}</span>
            </h2>
            {plug.matingFace && plug.wireSide ? (
              <>
                <PlainFace
                  title="Seen from the mating face"
                  face={plug.matingFace}
                  fillings={names}
                  ringed={cavity}
                  onPick={(c) => setSearch({ at: `${plug.plug.ref}:${c}` })}
                />
                <PlainFace
                  title="Seen from the wire side"
                  face={plug.wireSide}
                  fillings={names}
                  ringed={cavity}
                  onPick={(c) => setSearch({ at: `${plug.plug.ref}:${c}` })}
                />
                <p className="text-soft">
                  {plug.familyTitle}. Same shape never means same pinout: compare before you plug.
                </p>
              </>
            ) : (
              <p className="text-doubt">
                Nobody has said which family this plug is. Set it to see its face and to work down loose wires.
              </p>
            )}
          </section>
        )}
        <section aria-label="Lines" className="min-w-0">
          <div className="mb-2 flex flex-wrap items-center gap-3">
            <span className="text-soft">{ticked.size > 0 ? `${ticked.size} ticked` : `${shown.length} lines`}</span>
            <div className="w-64">
              <Select aria-label="How it was confirmed" value={how} onChange={(e) => setHow(e.target.value)}>
                {Object.entries(ways).map(([value, label]) => (
                  <option key={value} value={value}>
                    {label}
                  </option>
                ))}
              </Select>
            </div>
            <Button changes onClick={() => confirm.mutate()} disabled={ticked.size === 0 || confirm.isPending}>
              I confirm these
            </Button>
            <Button onClick={() => setTicked(new Set(shown.map((l) => `${l.line.connector}:${l.line.cavity}`)))}>
              Tick all shown
            </Button>
          </div>
          <ErrorNotice error={confirm.error} />
          <div className="max-h-[36rem] overflow-auto border-2 border-edge bg-card">
            <table className="w-full text-left text-[0.95rem]">
              <thead className="sticky top-0 z-10 bg-well text-soft">
                <tr>
                  {['', 'Cavity', 'Function', 'Kind', 'Wire', 'Trust'].map((h, i) => (
                    <th key={h} scope="col" className="px-2 py-1">
                      {i === 0 ? <span className="sr-only">Ticked</span> : h}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {shown.map((l) => {
                  const place = `${l.line.connector}:${l.line.cavity}`;
                  return (
                    <tr key={place} className={`border-b border-line ${place === at ? 'bg-well' : ''}`}>
                      <td className="px-2">
                        <input
                          type="checkbox"
                          aria-label={`Tick ${place}`}
                          className="size-5 accent-copper"
                          checked={ticked.has(place)}
                          onChange={() => tick(place)}
                        />
                      </td>
                      <th scope="row" className="px-2">
                        <button
                          type="button"
                          className="min-h-8 min-w-8 cursor-pointer text-left font-mono font-semibold underline decoration-line"
                          onClick={() => setSearch({ at: place })}
                        >
                          {l.line.cavity}
                        </button>
                      </th>
                      <td className="px-2">
                        {l.line.function || <span className="text-soft">not said</span>}
                        {l.line.note && <span className="block text-sm text-soft">{l.line.note}</span>}
                      </td>
                      <td className="px-2 whitespace-nowrap">{l.role}</td>
                      <td className="px-2 font-mono whitespace-nowrap">
                        {l.line.colour} <span className="font-sans text-sm text-soft">{l.line.section}</span>
                      </td>
                      <td className="px-2">
                        <Trust vouched={l.vouched} />
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
        </section>
      </div>
    </>
  );
}
