import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { api, given, Refused, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { Grid } from '../../ui/grid/Grid';
import { textColumn, type Row } from '../../ui/grid/columns';
import { marksOf } from '../draft/marks';
import { directions, sources } from './words';

type Body = Schemas['SheetRequest'];

const plain = <T,>(rows: readonly Row[], fields: readonly string[]) =>
  rows.map((r) => Object.fromEntries(fields.map((f) => [f, typeof r[f] === 'string' ? r[f] : '']))) as T[];

/** What a sheet says, as tables that take typing and pasting. */
export function SheetEditor({ body, onChange, error }: { body: Body; onChange: (body: Body) => void; error: unknown }) {
  const families = useQuery({ queryKey: keys.families, queryFn: () => given(api.GET('/api/families')) });
  const ids = useMemo(() => families.data?.map((f) => f.id) ?? [], [families.data]);
  const refs = body.connectors.map((c) => c.ref);
  const marks = marksOf(error instanceof Refused ? error.problems : []);
  const plugColumns = useMemo(
    () => [
      textColumn('ref', 'Plug', 120, { mono: true }),
      textColumn('title', 'Title', 260),
      textColumn('family', 'Family', 160, { mono: true, options: () => ids }),
    ],
    [ids],
  );
  const lineColumns = [
    textColumn('connector', 'Plug', 100, { mono: true, options: () => refs, also: ['connector', 'ref'] }),
    textColumn('cavity', 'Cavity', 80, { mono: true, also: ['pin', 'terminal', 'position'] }),
    textColumn('function', 'Function', 320, { also: ['circuit', 'signal', 'description'] }),
    textColumn('direction', 'Direction', 130, { options: () => directions, also: ['dir', 'type'] }),
    textColumn('colour', 'Colour', 110, { mono: true, also: ['color'] }),
    textColumn('section', 'Section', 110, { also: ['size', 'mm2'] }),
    textColumn('note', 'Note', 260),
  ];
  return (
    <div className="space-y-4">
      <div className="grid gap-4 sm:grid-cols-3">
        <Field label="Title">
          <Input value={body.title} maxLength={120} onChange={(e) => onChange({ ...body, title: e.target.value })} />
        </Field>
        <Field label="Where it is from">
          <Select value={body.source} onChange={(e) => onChange({ ...body, source: e.target.value })}>
            {Object.entries(sources).map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="More about it">
          <Input
            value={body.sourceNote}
            maxLength={400}
            onChange={(e) => onChange({ ...body, sourceNote: e.target.value })}
          />
        </Field>
      </div>
      <div className="flex h-44 flex-col">
        <Grid
          label="Plugs"
          columns={plugColumns}
          rows={body.connectors}
          marks={marks.get('connectors') ?? new Map()}
          fresh={() => ({ ref: '', title: '', family: '' })}
          onChange={(rows) => onChange({ ...body, connectors: plain(rows, ['ref', 'title', 'family']) })}
        />
      </div>
      <div className="flex h-96 flex-col">
        <Grid
          label="Lines"
          columns={lineColumns}
          rows={body.lines}
          marks={marks.get('lines') ?? new Map()}
          fresh={() => ({ connector: refs[0] ?? '' })}
          onChange={(rows) =>
            onChange({
              ...body,
              lines: plain(rows, ['connector', 'cavity', 'function', 'direction', 'colour', 'section', 'note']),
            })
          }
        />
      </div>
      <ErrorNotice error={error} />
    </div>
  );
}
