import {
  namesColumn,
  numberColumn,
  pinsColumn,
  rangeColumn,
  textColumn,
  type GridColumn,
  type Row,
} from '../../ui/grid/columns';
import type { Schemas } from '../../api/client';
import { Stripes } from '../../ui/WireMark';
import { endsOf, freeName, listOf, type ListName, type LoomFile } from './document';

export interface TableShape {
  list: Exclude<ListName, 'families'>;
  title: string;
  columns: GridColumn[];
  fresh: (rows: readonly Row[]) => Row;
}

/** What colours look like, told by the server. */
export type Palette = ReadonlyMap<string, string>;

/** What a file may say, told by the server. */
export type Words = Schemas['VocabularyView'];

/** The tables of a draft with what can be completed in each of their columns. */
export function tablesOf(file: LoomFile, library: readonly string[], palette: Palette, words: Words): TableShape[] {
  const names = (list: ListName, field: string) =>
    listOf(file, list).flatMap((r) => (typeof r[field] === 'string' ? [r[field]] : []));
  const ends = endsOf(file);
  const families = [...new Set([...names('families', 'id'), ...library])];
  const branches = names('branches', 'id');
  const circuits = [...new Set(names('wires', 'circuit'))];
  const groups = [...new Set(names('wires', 'group'))];
  const used = [...new Set(names('wires', 'colour'))];
  const colours = [...used, ...[...palette.keys()].filter((c) => !used.includes(c))];
  const place = [
    textColumn('branch', 'Branch', 110, { options: () => branches }),
    numberColumn('atMm', 'At (mm)', 90, { also: ['at'] }),
  ];
  return [
    {
      list: 'wires',
      title: 'Wires',
      fresh: (rows) => ({ id: freeName(rows, 'id', 'W') }),
      columns: [
        textColumn('id', 'Wire', 80, { mono: true, also: ['no', 'wire id'] }),
        textColumn('from', 'From', 120, { mono: true, options: () => ends, also: ['start'] }),
        textColumn('to', 'To', 120, { mono: true, options: () => ends, also: ['end'] }),
        textColumn('colour', 'Colour', 110, {
          mono: true,
          options: () => colours,
          also: ['color'],
          mark: (row) => <Swatch text={row.colour} palette={palette} />,
        }),
        numberColumn('mm2', 'mm²', 70, { options: () => words.sections.map(String), also: ['section', 'size'] }),
        numberColumn('awg', 'AWG', 64, { also: ['gauge'] }),
        numberColumn('lengthMm', 'Length (mm)', 108, { also: ['length', 'length_mm'] }),
        textColumn('circuit', 'Circuit', 220, { options: () => circuits, also: ['function', 'signal'] }),
        textColumn('group', 'Twisted with', 110, { options: () => groups, also: ['group'] }),
        textColumn('role', 'Role', 90, { options: () => words.wireRoles }),
        textColumn('note', 'Note', 200),
      ],
    },
    {
      list: 'connectors',
      title: 'Connectors',
      fresh: () => ({ branch: branches[0] ?? 'trunk', atMm: 0 }),
      columns: [
        textColumn('ref', 'Connector', 110, { mono: true, also: ['ref'] }),
        textColumn('title', 'Title', 200),
        textColumn('family', 'Family', 130, { mono: true, options: () => families }),
        ...place,
        namesColumn('blanked', 'Blanked', 130),
        textColumn('place', 'Place on the engine', 220),
        textColumn('unlock', 'To unlock', 180),
        textColumn('ifLeftOff', 'If left off', 200),
        textColumn('note', 'Note', 200),
      ],
    },
    {
      list: 'splices',
      title: 'Splices',
      fresh: (rows) => ({ ref: freeName(rows, 'ref', 'S'), kind: 'crimp' }),
      columns: [
        textColumn('ref', 'Splice', 90, { mono: true, also: ['ref'] }),
        textColumn('kind', 'Kind', 100, { options: () => ['crimp', 'solder'] }),
        ...place,
        rangeColumn('legMilliohm', 'Leg (mΩ)', 140),
      ],
    },
    {
      list: 'branches',
      title: 'Branches',
      fresh: (rows) =>
        rows.length === 0 ? { id: 'trunk', parent: null, atMm: 0 } : { parent: branches[0] ?? 'trunk', atMm: 0 },
      columns: [
        textColumn('id', 'Branch', 130, { mono: true }),
        textColumn('parent', 'Leaves', 130, { mono: true, options: () => branches, also: ['parent'] }),
        numberColumn('atMm', 'At (mm)', 90, { also: ['at'] }),
        numberColumn('lengthMm', 'Length (mm)', 110, { also: ['length', 'length_mm'] }),
      ],
    },
    {
      list: 'landmarks',
      title: 'Landmarks',
      fresh: () => ({ branch: branches[0] ?? 'trunk', atMm: 0 }),
      columns: [
        textColumn('id', 'Landmark', 150),
        textColumn('kind', 'Kind', 130, { options: () => ['grommet', 'clip', 'bulkhead', 'mark'] }),
        ...place,
      ],
    },
    {
      list: 'devices',
      title: 'Devices',
      fresh: () => ({}),
      columns: [
        textColumn('ref', 'Device', 150, { mono: true, also: ['ref'] }),
        textColumn('title', 'Title', 200),
        textColumn('kind', 'Kind', 110, { options: () => words.deviceKinds }),
        pinsColumn('pins', 'Pins', 320),
        rangeColumn('ohm', 'Ω', 150),
      ],
    },
    {
      list: 'box',
      title: 'Box',
      fresh: (rows) => ({ id: freeName(rows, 'id', 'P'), kind: 'packed', count: 1 }),
      columns: [
        textColumn('id', 'Thing', 80, { mono: true }),
        textColumn('title', 'Title', 280),
        textColumn('kind', 'Kind', 110, { options: () => words.boxKinds }),
        numberColumn('count', 'Count', 80),
        numberColumn('years', 'Age (years)', 110),
        textColumn('note', 'Note', 360),
      ],
    },
    {
      list: 'fitting',
      title: 'Fitting',
      fresh: (rows) => ({ id: freeName(rows, 'id', 'F') }),
      columns: [
        textColumn('id', 'Step', 80, { mono: true }),
        textColumn('do', 'What to do', 560),
        textColumn('branch', 'Branch', 130, { options: () => branches }),
      ],
    },
    {
      list: 'codeReadings',
      title: 'Codes',
      fresh: (rows) => ({ id: freeName(rows, 'id', 'C') }),
      columns: [
        textColumn('id', 'Way', 90, { mono: true }),
        textColumn('socket', 'Socket', 110, { options: () => names('connectors', 'ref') }),
        namesColumn('bridge', 'Bridge', 180),
        textColumn('how', 'How', 520),
      ],
    },
  ];
}

function Swatch({ text, palette }: { text: unknown; palette: Palette }) {
  const codes = typeof text === 'string' ? text.toUpperCase().split('/') : [];
  const stripes = codes.flatMap((c) => palette.get(c) ?? []);
  return codes.length > 0 && stripes.length === codes.length ? (
    <Stripes colour={{ text: '', spoken: '', stripes }} width={22} height={12} />
  ) : null;
}
