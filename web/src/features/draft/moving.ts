import type { Row } from '../../ui/grid/columns';
import { listOf, withList, type LoomFile } from './document';

const number = (value: unknown) => (typeof value === 'number' ? value : 0);

/** The file with a connector moved along the trunk: its own place when it sits on the trunk, else where its branch leaves. */
export function movedAlong(file: LoomFile, connector: string, byMm: number): LoomFile {
  const branches = new Map(listOf(file, 'branches').map((b) => [b.id, b]));
  const trunk = [...branches.values()].find((b) => b.parent === null || b.parent === undefined);
  const here = listOf(file, 'connectors').find((c) => c.ref === connector);
  if (!trunk || !here) return file;
  const within = (at: number) => Math.max(0, Math.min(number(trunk.lengthMm), at));
  let branch = branches.get(here.branch);
  if (!branch || branch === trunk) {
    const moved = { ...here, branch: trunk.id, atMm: within(number(here.atMm) + byMm) };
    return withList(file, 'connectors', swapped(listOf(file, 'connectors'), here, moved));
  }
  for (let deep = 0; deep < 50; deep++) {
    const parent = branches.get(branch.parent);
    if (!parent || parent === trunk) break;
    branch = parent;
  }
  const moved = { ...branch, atMm: within(number(branch.atMm) + byMm) };
  return withList(file, 'branches', swapped(listOf(file, 'branches'), branch, moved));
}

const swapped = (rows: readonly Row[], old: Row, now: Row) => rows.map((r) => (r === old ? now : r));
