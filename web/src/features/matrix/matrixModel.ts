import type { Schemas } from '../../api/client';

type Matrix = Schemas['MatrixView'];
type Step = Schemas['StepView'];

/** What is drawn in a cell. */
export type CellMark = 'pass' | 'fail' | 'cant-tell' | 'retest' | 'skipped' | 'not-tested' | 'drawn';

export interface Cell {
  row: number;
  column: number;
  mark: CellMark;
  /** Its step; null where the drawing joins two places that no step measures directly. */
  step: Step | null;
  joined: boolean;
}

/** Cells that hold something, by row; everything else is to be apart and was not measured. */
export interface MatrixModel {
  size: number;
  rows: readonly ReadonlyMap<number, Cell>[];
  /** Steps against all other circuits, by the place of their point. */
  whole: ReadonlyMap<number, Step>;
}

/** Lays the drawing and the run's steps into one sparse matrix, the same above and below its diagonal. */
export function matrixOf(matrix: Matrix, steps: readonly Step[]): MatrixModel {
  const rows = matrix.points.map(() => new Map<number, Cell>());
  const byNet = new Map<number, number[]>();
  matrix.nets.forEach((net, i) => {
    if (net >= 0) byNet.set(net, [...(byNet.get(net) ?? []), i]);
  });
  const put = (cell: Cell) => {
    rows[cell.row]?.set(cell.column, cell);
    rows[cell.column]?.set(cell.row, { ...cell, row: cell.column, column: cell.row });
  };
  for (const members of byNet.values())
    for (const row of members)
      for (const column of members) if (row < column) put({ row, column, mark: 'drawn', step: null, joined: true });
  const place = new Map(matrix.points.map((p, i) => [p, i]));
  const whole = new Map<number, Step>();
  for (const step of steps) {
    const row = place.get(step.black);
    if (row === undefined) continue;
    if (step.red === null) {
      whole.set(row, step);
      continue;
    }
    const column = place.get(step.red);
    if (column !== undefined) put({ row, column, mark: step.standing.state, step, joined: step.joined });
  }
  return { size: matrix.points.length, rows, whole };
}

/** The cell at two places, as a person may ask for it. */
export function cellAt(model: MatrixModel, row: number, column: number): Cell | null {
  return model.rows[row]?.get(column) ?? null;
}

/** What a cell says, in words. */
export function cellWords(matrix: Matrix, model: MatrixModel, row: number, column: number): string {
  const [a, b] = [matrix.points[row], matrix.points[column]];
  if (a === undefined || b === undefined) return '';
  if (row === column) {
    const step = model.whole.get(row);
    return step ? `${a} against all others: ${stepWords(step)}` : `${a}: the same place`;
  }
  const cell = cellAt(model, row, column);
  if (!cell) return `${a} and ${b}: drawn apart, no step of their own`;
  const drawn = cell.joined ? 'drawn joined' : 'drawn apart';
  return `${a} and ${b}: ${drawn}, ${cell.step ? stepWords(cell.step) : 'proven by the steps of their circuit'}`;
}

function stepWords(step: Step): string {
  const { state, last } = step.standing;
  return `step ${step.number}, must read ${step.limitsText}${last ? `, reads ${last.text}` : ''}: ${stateWords[state]}`;
}

const stateWords: Record<Schemas['StepState'], string> = {
  'not-tested': 'not tested',
  pass: 'pass',
  fail: 'fail',
  'cant-tell': 'can’t tell',
  skipped: 'skipped',
  retest: 'to be measured again',
};

/** Which tiles lie in sight, as columns and rows of tiles. */
export function tilesInSight(x: number, y: number, width: number, height: number, tile: number, whole: number) {
  const last = Math.max(0, Math.ceil(whole / tile) - 1);
  const clamp = (n: number) => Math.min(last, Math.max(0, n));
  return {
    left: clamp(Math.floor(x / tile)),
    right: clamp(Math.floor((x + width - 1) / tile)),
    top: clamp(Math.floor(y / tile)),
    bottom: clamp(Math.floor((y + height - 1) / tile)),
  };
}
