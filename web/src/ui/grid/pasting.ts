import { cellsOf } from './clipboard';
import type { GridColumn, Row } from './columns';

const same = (a: string) =>
  a
    .trim()
    .toLowerCase()
    .replaceAll(/[\s_-]+/g, ' ');

/** Where pasted columns go: by their heads when the first row names at least two of them, else from the active cell on. */
function plan(first: readonly string[], columns: readonly GridColumn[], from: number) {
  const byHead = first.map((cell) =>
    columns.findIndex((c) => [c.key, c.head, ...(c.also ?? [])].some((name) => same(name) === same(cell))),
  );
  const headed = byHead.filter((i) => i >= 0).length >= Math.min(2, first.length) && first.length > 1;
  return { headed, to: headed ? byHead : first.map((_, i) => (from + i < columns.length ? from + i : -1)) };
}

/** Rows with the clipboard's cells laid over them; rows are added as needed. */
export function pasted(
  text: string,
  rows: readonly Row[],
  columns: readonly GridColumn[],
  at: { row: number; column: number },
  fresh: (rows: readonly Row[]) => Row,
): { rows: Row[]; count: number } {
  const cells = cellsOf(text);
  const first = cells[0] ?? [];
  const { headed, to } = plan(first, columns, at.column);
  const body = (headed ? cells.slice(1) : cells).filter((r) => r.some((c) => c !== ''));
  const result = [...rows];
  body.forEach((line, i) => {
    const index = Math.min(at.row + i, result.length);
    let row = result[index] ?? fresh(result);
    // All columns of a line count as wide as the first one.
    to.forEach((column, j) => {
      const target = columns[column];
      if (target) row = target.write(row, line[j] ?? '');
    });
    result[index] = row;
  });
  return { rows: result, count: body.length };
}

/** The text with its last number one higher; the same text when there is none. */
export const countedUp = (text: string) =>
  text.replace(/(\d+)(?!.*\d)/, (n) => String(Number(n) + 1).padStart(n.length, '0'));
