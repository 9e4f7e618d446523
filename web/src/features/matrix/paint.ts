import type { Schemas } from '../../api/client';
import { tilesInSight, type Cell, type MatrixModel } from './matrixModel';

/** Side of a tile, in pixels of the screen. */
const tileSide = 512;

/** Colours as the page's theme has them. */
export interface Inks {
  paper: string;
  card: string;
  ink: string;
  soft: string;
  line: string;
  edge: string;
  copper: string;
  pass: string;
  fail: string;
  doubt: string;
}

/** Reads the theme's colours as they come out by day or by night. */
export function inksOf(element: Element): Inks {
  const probe = document.createElement('span');
  element.append(probe);
  const of = (name: string) => {
    probe.style.color = `var(--color-${name})`;
    return getComputedStyle(probe).color;
  };
  const inks = {
    paper: of('paper'),
    card: of('card'),
    ink: of('ink'),
    soft: of('soft'),
    line: of('line'),
    edge: of('edge'),
    copper: of('copper'),
    pass: of('pass'),
    fail: of('fail'),
    doubt: of('doubt'),
  };
  probe.remove();
  return inks;
}

/** Draws one tile: the ground, the borders of its connectors, and the cells in it that hold something. */
function paintTile(
  to: CanvasRenderingContext2D,
  { matrix, model, inks, cell }: { matrix: Schemas['MatrixView']; model: MatrixModel; inks: Inks; cell: number },
  column: number,
  row: number,
) {
  const [left, top] = [column * tileSide, row * tileSide];
  to.fillStyle = inks.card;
  to.fillRect(0, 0, tileSide, tileSide);
  const first = (from: number) => Math.max(0, Math.floor(from / cell));
  const last = (from: number) => Math.min(model.size - 1, Math.floor((from + tileSide) / cell));
  to.fillStyle = inks.line;
  for (let i = first(left); i <= last(left); i++)
    for (let k = first(top); k <= last(top); k++) if (i === k) to.fillRect(i * cell - left, k * cell - top, cell, cell);
  to.strokeStyle = inks.edge;
  to.lineWidth = 1;
  to.beginPath();
  for (const block of matrix.blocks) {
    const at = Math.round(block.from * cell) + 0.5;
    to.moveTo(at - left, 0);
    to.lineTo(at - left, tileSide);
    to.moveTo(0, at - top);
    to.lineTo(tileSide, at - top);
  }
  to.stroke();
  for (let k = first(top); k <= last(top); k++)
    for (const [i, held] of model.rows[k] ?? [])
      if (i >= first(left) && i <= last(left)) paintCell(to, held, inks, i * cell - left, k * cell - top, cell);
}

/** A verdict is its shape as well as its colour: filled disc, crossed square, half disc, ring. */
function paintCell(to: CanvasRenderingContext2D, held: Cell, inks: Inks, x: number, y: number, side: number) {
  const [cx, cy, r] = [x + side / 2, y + side / 2, Math.max(1, side * 0.36)];
  const disc = (from = 0, until = 2 * Math.PI) => {
    to.beginPath();
    to.arc(cx, cy, r, from, until);
  };
  to.lineWidth = Math.max(1, side / 9);
  switch (held.mark) {
    case 'pass':
      to.fillStyle = inks.pass;
      disc();
      to.fill();
      break;
    case 'fail':
      to.fillStyle = inks.fail;
      to.fillRect(x + 0.5, y + 0.5, Math.max(2, side - 1), Math.max(2, side - 1));
      if (side >= 9) {
        to.strokeStyle = inks.card;
        to.beginPath();
        to.moveTo(x + side * 0.25, y + side * 0.25);
        to.lineTo(x + side * 0.75, y + side * 0.75);
        to.moveTo(x + side * 0.75, y + side * 0.25);
        to.lineTo(x + side * 0.25, y + side * 0.75);
        to.stroke();
      }
      break;
    case 'cant-tell':
      to.fillStyle = inks.doubt;
      disc(Math.PI / 2, (3 * Math.PI) / 2);
      to.fill();
      break;
    case 'drawn':
      to.fillStyle = inks.soft;
      to.fillRect(cx - Math.max(1, side / 8), cy - Math.max(1, side / 8), Math.max(1, side / 4), Math.max(1, side / 4));
      break;
    default:
      to.strokeStyle = held.mark === 'retest' ? inks.copper : inks.ink;
      disc();
      to.stroke();
      if (held.joined) {
        to.fillStyle = inks.soft;
        to.fillRect(cx - 1, cy - 1, 2, 2);
      }
  }
}

/** What a whole view is painted from. */
export interface View {
  matrix: Schemas['MatrixView'];
  model: MatrixModel;
  inks: Inks;
  /** Side of a cell. */
  cell: number;
  /** Tiles that are painted already, by place; emptied when anything but the place changes. */
  tiles: Map<string, HTMLCanvasElement>;
  /** Cells outlined by patterns: pairs of places. */
  outlined: readonly (readonly [number, number])[];
  /** Where the cursor stands. */
  at: readonly [row: number, column: number];
}

/** Width of the strip with the names of rows, height of that with the names of columns. */
export const strip = { left: 112, top: 96 };

/** Most tiles that are kept; those that were not seen for longest go first. */
const mostTiles = 96;

/** Paints what is in sight. */
export function paintView(canvas: HTMLCanvasElement, view: View, x: number, y: number, ratio: number) {
  const to = canvas.getContext('2d');
  if (!to) return;
  const [width, height] = [canvas.width / ratio, canvas.height / ratio];
  const whole = view.model.size * view.cell;
  to.setTransform(ratio, 0, 0, ratio, 0, 0);
  to.fillStyle = view.inks.paper;
  to.fillRect(0, 0, width, height);
  to.save();
  to.beginPath();
  to.rect(strip.left, strip.top, Math.min(width - strip.left, whole - x), Math.min(height - strip.top, whole - y));
  to.clip();
  to.translate(strip.left - x, strip.top - y);
  const sight = tilesInSight(x, y, width - strip.left, height - strip.top, tileSide, whole);
  for (let row = sight.top; row <= sight.bottom; row++)
    for (let column = sight.left; column <= sight.right; column++)
      to.drawImage(tileOf(view, column, row, ratio), column * tileSide, row * tileSide, tileSide, tileSide);
  to.strokeStyle = view.inks.copper;
  to.lineWidth = 3;
  for (const [row, column] of view.outlined)
    for (const [r, c] of [
      [row, column],
      [column, row],
    ] as const)
      to.strokeRect(c * view.cell - 2, r * view.cell - 2, view.cell + 4, view.cell + 4);
  to.strokeStyle = view.inks.ink;
  to.lineWidth = 2;
  to.strokeRect(view.at[1] * view.cell - 1, view.at[0] * view.cell - 1, view.cell + 2, view.cell + 2);
  to.restore();
  paintNames(to, view, x, y, width, height);
}

function tileOf(view: View, column: number, row: number, ratio: number): HTMLCanvasElement {
  const key = `${column} ${row}`;
  const kept = view.tiles.get(key);
  if (kept) {
    view.tiles.delete(key);
    view.tiles.set(key, kept);
    return kept;
  }
  const tile = document.createElement('canvas');
  tile.width = tile.height = tileSide * ratio;
  const to = tile.getContext('2d');
  if (to) {
    to.scale(ratio, ratio);
    paintTile(to, view, column, row);
  }
  view.tiles.set(key, tile);
  const [oldest] = view.tiles.keys();
  if (view.tiles.size > mostTiles && oldest !== undefined) view.tiles.delete(oldest);
  return tile;
}

/** Names of connectors and, where there is room, of cavities, along both edges. */
function paintNames(to: CanvasRenderingContext2D, view: View, x: number, y: number, width: number, height: number) {
  const { matrix, inks, cell, at } = view;
  to.fillStyle = inks.paper;
  to.fillRect(0, 0, width, strip.top);
  to.fillRect(0, 0, strip.left, height);
  to.textBaseline = 'middle';
  const along = (vertical: boolean) => {
    const [shift, room] = vertical ? [y, height - strip.top] : [x, width - strip.left];
    to.save();
    if (vertical) to.translate(0, strip.top);
    else {
      to.translate(strip.left, 0);
      to.rotate(Math.PI / 2);
      to.scale(1, -1);
    }
    to.beginPath();
    to.rect(0, 0, vertical ? strip.left : strip.top, room);
    to.clip();
    const write = (text: string, from: number, middle: number) => {
      to.save();
      to.translate(from, middle);
      if (!vertical) to.scale(1, -1);
      to.fillText(text, 0, 0);
      to.restore();
    };
    for (const block of matrix.blocks) {
      const [begin, end] = [block.from * cell - shift, (block.from + block.count) * cell - shift];
      if (end < 0 || begin > room) continue;
      to.fillStyle = inks.ink;
      to.strokeStyle = inks.edge;
      to.beginPath();
      to.moveTo(0, begin + 0.5);
      to.lineTo(vertical ? strip.left : strip.top, begin + 0.5);
      to.stroke();
      if (end - begin >= 11) {
        to.font = 'bold 13px "Atkinson Hyperlegible", sans-serif';
        write(block.ref, 4, (Math.max(begin, 0) + Math.min(end, room)) / 2);
      }
      if (cell < 11) continue;
      to.font = `${Math.min(13, cell)}px "Atkinson Hyperlegible Mono", monospace`;
      for (let i = block.from; i < block.from + block.count; i++) {
        const middle = (i + 0.5) * cell - shift;
        if (middle < 0 || middle > room) continue;
        to.fillStyle = i === at[vertical ? 0 : 1] ? inks.copper : inks.soft;
        write((matrix.points[i] ?? '').split(':')[1] ?? '', (vertical ? strip.left : strip.top) - 34, middle);
      }
    }
    to.restore();
  };
  along(true);
  along(false);
  to.fillStyle = inks.paper;
  to.fillRect(0, 0, strip.left, strip.top);
}
