import type { Row } from '../../ui/grid/columns';

/** Lists of a loom file that are edited as tables. */
export const lists = [
  'wires',
  'connectors',
  'splices',
  'branches',
  'landmarks',
  'devices',
  'box',
  'fitting',
  'codeReadings',
  'families',
] as const;
export type ListName = (typeof lists)[number];

/** A loom file as it is being written: right or wrong, with fields nobody here knows. */
export type LoomFile = Readonly<Record<string, unknown>>;

export const listOf = (file: LoomFile, list: ListName): readonly Row[] =>
  Array.isArray(file[list]) ? (file[list] as Row[]) : [];

export const withList = (file: LoomFile, list: ListName, rows: readonly Row[]): LoomFile => ({ ...file, [list]: rows });

export const headOf = (file: LoomFile): Row =>
  typeof file.loom === 'object' && file.loom !== null ? (file.loom as Row) : {};

/** The file with a row in place of the one of its name, or behind the others. */
export function withRow(file: LoomFile, list: ListName, name: string, row: Row): LoomFile {
  const rows = listOf(file, list);
  const at = rows.findIndex((r) => r[name] === row[name]);
  return withList(file, list, at < 0 ? [...rows, row] : rows.map((r, i) => (i === at ? row : r)));
}

/** The file with a connector, or a pin of one, that its wires name and that the server offers to make. */
export function withOffer(file: LoomFile, offer: { connector: unknown; family: unknown }): LoomFile {
  const made = withRow(file, 'families', 'id', offer.family as Row);
  return offer.connector ? withRow(made, 'connectors', 'ref', offer.connector as Row) : made;
}

/** Cavities of a family as its file writes it, in face order. */
export function cavitiesOf(family: Row | undefined): string[] {
  return Array.isArray(family?.rows) ? family.rows.flat().filter((c): c is string => typeof c === 'string') : [];
}

/** Every place a wire can end: cavities of all connectors, and splices. */
export function endsOf(file: LoomFile): string[] {
  const families = new Map(listOf(file, 'families').map((f) => [f.id, cavitiesOf(f)]));
  const cavities = listOf(file, 'connectors').flatMap((c) =>
    typeof c.ref === 'string' ? (families.get(c.family) ?? []).map((cavity) => `${c.ref as string}:${cavity}`) : [],
  );
  return [...cavities, ...listOf(file, 'splices').flatMap((s) => (typeof s.ref === 'string' ? [s.ref] : []))];
}

/** The first name of a row of names that nothing has yet: W1, W2, … */
export function freeName(rows: readonly Row[], field: string, prefix: string): string {
  const taken = new Set(rows.map((r) => r[field]));
  let n = rows.length + 1;
  while (taken.has(`${prefix}${n}`)) n++;
  return `${prefix}${n}`;
}
