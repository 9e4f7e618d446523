import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { PlainFace } from '../../ui/PlainFace';

type Body = Readonly<Record<string, unknown>>;

const corners: [Schemas['FaceCorner'], string][] = [
  ['top-left', 'top left'],
  ['top-right', 'top right'],
  ['bottom-left', 'bottom left'],
  ['bottom-right', 'bottom right'],
];
const namings: [Schemas['CavityNaming'], string][] = [
  ['numbers', '1, 2, 3 … through all rows'],
  ['letter-rows', 'a letter for the row: A1, A2, B1'],
  ['letters', 'A, B, C … through all rows'],
];

/** A family made by its rows: how many places each has, where naming begins and which way it runs; both faces are drawn at once. */
export function FamilyForm({
  start,
  action,
  onDone,
  onCancel,
  error,
}: {
  start?: Body;
  action: string;
  onDone: (body: Body) => void;
  onCancel?: () => void;
  error?: unknown;
}) {
  const [facts, setFacts] = useState({
    id: text(start?.id),
    title: text(start?.title),
    keying: text(start?.keying),
    kind: text(start?.kind) || 'housing',
    numberedFrom: text(start?.numberedFrom) || 'wire-side',
    sealed: start?.sealed === true,
    large: Array.isArray(start?.large) ? start.large.join(' ') : '',
    contact: contactOf(start),
  });
  const [pattern, setPattern] = useState({
    rows: Array.isArray(start?.rows)
      ? start.rows.map((r: unknown) => (Array.isArray(r) ? r.length : 0)).join(', ')
      : '4, 4',
    gaps: '',
    start: 'top-left' as Schemas['FaceCorner'],
    byColumns: false,
    backAndForth: false,
    naming: 'numbers' as Schemas['CavityNaming'],
    first: '1',
  });
  const [named, setNamed] = useState(start !== undefined);
  const [byHand, setByHand] = useState(Array.isArray(start?.rows) ? faceText(start.rows) : '');
  const numbers = (t: string) =>
    t
      .split(/[^0-9]+/)
      .filter(Boolean)
      .map(Number);
  const made = useQuery({
    queryKey: keys.pattern(pattern),
    queryFn: () =>
      given(
        api.POST('/api/faces/pattern', {
          body: {
            ...pattern,
            rows: numbers(pattern.rows),
            gaps: pattern.gaps
              .split(/[,;]/)
              .map(numbers)
              .filter((g) => g.length > 0),
            first: Number(pattern.first) || 0,
          },
        }),
      ),
    enabled: !named,
    retry: false,
  });
  const rows = named ? faceOf(byHand) : made.data?.rows;
  const contact = facts.contact.trim().split(/\s+/).map(Number);
  const body: Body = {
    ...start,
    id: facts.id,
    title: facts.title || facts.id,
    kind: facts.kind,
    rows,
    numberedFrom: facts.numberedFrom,
    ...(facts.keying ? { keying: facts.keying } : {}),
    ...(facts.large.trim() ? { large: facts.large.trim().split(/\s+/) } : {}),
    sealed: facts.sealed,
    contactMilliohm: contact.length === 3 ? { min: contact[0], nominal: contact[1], max: contact[2] } : contact[0],
  };
  const drawn = useQuery({
    queryKey: keys.drawn(body),
    queryFn: () => given(api.POST('/api/faces/draw', { body: { ...body, id: facts.id || 'new' } })),
    enabled: rows !== undefined,
    retry: false,
    gcTime: 0,
  });
  const set = (change: Partial<typeof facts>) => setFacts({ ...facts, ...change });
  const shape = (change: Partial<typeof pattern>) => setPattern({ ...pattern, ...change });
  return (
    <form
      className="space-y-4"
      onSubmit={(e) => {
        e.preventDefault();
        onDone(body);
      }}
    >
      <div className="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
        <Field label="Id" hint="Short; looms name it">
          <Input
            value={facts.id}
            readOnly={start !== undefined}
            required
            maxLength={60}
            onChange={(e) => set({ id: e.target.value })}
          />
        </Field>
        <Field label="Title">
          <Input value={facts.title} maxLength={120} onChange={(e) => set({ title: e.target.value })} />
        </Field>
        <Field label="Keying" hint="What keeps it out of other places">
          <Input value={facts.keying} maxLength={60} onChange={(e) => set({ keying: e.target.value })} />
        </Field>
        <Field label="What it is">
          <Select value={facts.kind} onChange={(e) => set({ kind: e.target.value })}>
            <option value="housing">plug or socket</option>
            <option value="inline">inline pair</option>
            <option value="ring">ring terminal</option>
            <option value="tail">open tail</option>
          </Select>
        </Field>
        <Field label="Rows are counted on the">
          <Select value={facts.numberedFrom} onChange={(e) => set({ numberedFrom: e.target.value })}>
            <option value="wire-side">wire side</option>
            <option value="mating-face">mating face</option>
          </Select>
        </Field>
        <Field label="Contact (mΩ)" hint="Least, usual, greatest">
          <Input value={facts.contact} onChange={(e) => set({ contact: e.target.value })} />
        </Field>
        <Field label="Large cavities" hint="Names with blanks between them">
          <Input value={facts.large} onChange={(e) => set({ large: e.target.value })} />
        </Field>
        <label className="flex min-h-11 items-center gap-3 font-bold">
          <input
            type="checkbox"
            className="size-5 accent-copper"
            checked={facts.sealed}
            onChange={(e) => set({ sealed: e.target.checked })}
          />
          Sealed
        </label>
        <label className="flex min-h-11 items-center gap-3 font-bold">
          <input
            type="checkbox"
            className="size-5 accent-copper"
            checked={named}
            onChange={(e) => {
              if (e.target.checked && made.data) setByHand(faceText(made.data.rows));
              setNamed(e.target.checked);
            }}
          />
          Name each cavity myself
        </label>
      </div>
      {named ? (
        <Field label="Rows as they stand in the face" hint="Rows with / between them, top row first; _ for a gap">
          <Input className="font-mono" value={byHand} onChange={(e) => setByHand(e.target.value)} />
        </Field>
      ) : (
        <div className="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
          <Field label="Places in each row" hint="Top row first: 10, 10, 9">
            <Input value={pattern.rows} onChange={(e) => shape({ rows: e.target.value })} />
          </Field>
          <Field label="Gaps" hint="Row and place: 2 3, 2 4">
            <Input value={pattern.gaps} onChange={(e) => shape({ gaps: e.target.value })} />
          </Field>
          <Field label="First cavity is at the">
            <Select value={pattern.start} onChange={(e) => shape({ start: e.target.value as Schemas['FaceCorner'] })}>
              {corners.map(([value, label]) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </Select>
          </Field>
          <Field label="Names">
            <Select
              value={pattern.naming}
              onChange={(e) => shape({ naming: e.target.value as Schemas['CavityNaming'] })}
            >
              {namings.map(([value, label]) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </Select>
          </Field>
          <Field label="Names run along">
            <Select
              value={pattern.byColumns ? 'columns' : 'rows'}
              onChange={(e) => shape({ byColumns: e.target.value === 'columns' })}
            >
              <option value="rows">rows</option>
              <option value="columns">columns</option>
            </Select>
          </Field>
          <Field label="Each next line runs">
            <Select
              value={pattern.backAndForth ? 'back' : 'same'}
              onChange={(e) => shape({ backAndForth: e.target.value === 'back' })}
            >
              <option value="same">the same way</option>
              <option value="back">back again</option>
            </Select>
          </Field>
        </div>
      )}
      {!named && <ErrorNotice error={made.error} />}
      {drawn.data && (
        <div className="grid gap-4 lg:grid-cols-2">
          <PlainFace title="Mating face" face={drawn.data.matingFace} />
          <PlainFace title="Wire side" face={drawn.data.wireSide} />
        </div>
      )}
      <ErrorNotice error={drawn.error ?? error} />
      <div className="flex gap-3">
        <Button changes kind="main" type="submit" disabled={!drawn.data || facts.id === ''}>
          {action}
        </Button>
        {onCancel && <Button onClick={onCancel}>Leave it</Button>}
      </div>
    </form>
  );
}

const text = (value: unknown) => (typeof value === 'string' ? value : '');

function contactOf(body: Body | undefined): string {
  const contact = body?.contactMilliohm;
  if (typeof contact === 'number') return String(contact);
  if (typeof contact !== 'object' || contact === null) return '1 4 10';
  const { min, nominal, max } = contact as Record<string, unknown>;
  return [min, nominal, max].join(' ');
}

const faceText = (rows: readonly unknown[]) =>
  rows.map((r) => (Array.isArray(r) ? r.map((c) => (typeof c === 'string' ? c : '_')).join(' ') : '')).join(' / ');

const faceOf = (words: string): (string | null)[][] =>
  words.split('/').map((r) =>
    r
      .trim()
      .split(/\s+/)
      .filter(Boolean)
      .map((c) => (c === '_' ? null : c)),
  );
