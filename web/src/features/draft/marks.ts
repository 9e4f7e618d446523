import type { Problem } from '../../api/client';
import type { RowMarks } from '../../ui/grid/Grid';

/** Problems by list, row and field, as the grids mark them. */
export function marksOf(problems: readonly Problem[]): Map<string, Map<number, RowMarks>> {
  const lists = new Map<string, Map<number, Map<string, string>>>();
  for (const { at, message } of problems) {
    const [, list, index, field = ''] = at.split('/');
    if (!list || index === undefined) continue;
    const rows = lists.get(list) ?? new Map<number, Map<string, string>>();
    lists.set(list, rows);
    const row = rows.get(Number(index)) ?? new Map<string, string>();
    rows.set(Number(index), row);
    row.set(field, [row.get(field), message].filter(Boolean).join(' '));
  }
  return lists;
}
