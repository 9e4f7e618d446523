import { useVirtualizer } from '@tanstack/react-virtual';
import {
  memo,
  useCallback,
  useEffect,
  useId,
  useLayoutEffect,
  useRef,
  useState,
  type ClipboardEvent,
  type KeyboardEvent,
} from 'react';
import { CellEditor, type EditEnd } from './CellEditor';
import { textOf } from './clipboard';
import type { GridColumn, Row } from './columns';
import { countedUp, pasted } from './pasting';

/** What is wrong in a row: field to message; the empty field is the row itself. */
export type RowMarks = ReadonlyMap<string, string>;

interface Place {
  row: number;
  column: number;
}

const rowHeight = 34;
const numberWidth = 48;

/** Scrolls only as far as is needed to see the row whole, below the head. */
function reveal(box: HTMLElement | null, row: number) {
  if (!box) return;
  const top = row * rowHeight;
  if (top < box.scrollTop) box.scrollTop = top;
  else if (top + 2 * rowHeight > box.scrollTop + box.clientHeight)
    box.scrollTop = top + 2 * rowHeight - box.clientHeight;
}

/** A table that takes typing, pasting and filling like a spreadsheet. The last row is always an empty one. */
export function Grid({
  label,
  columns,
  rows,
  marks,
  fresh,
  onChange,
  onActive,
  onNotice,
}: {
  label: string;
  columns: readonly GridColumn[];
  rows: readonly Row[];
  marks: ReadonlyMap<number, RowMarks>;
  /** A new row, for the end of these. */
  fresh: (rows: readonly Row[]) => Row;
  /** Edits with one key, one after the other, are undone together. */
  onChange: (rows: readonly Row[], together?: string) => void;
  onActive?: (row: Row | undefined, index: number) => void;
  /** Something that happened and cannot be seen at once, in words. */
  onNotice?: (words: string) => void;
}) {
  const [active, setActive] = useState<Place>({ row: 0, column: 0 });
  const [anchor, setAnchor] = useState<Place>({ row: 0, column: 0 });
  const [edit, setEdit] = useState<string | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const before = useRef<readonly Row[]>(rows);
  const latest = useRef<readonly Row[]>(rows);
  const id = useId();
  // eslint-disable-next-line react-hooks/incompatible-library -- what it returns goes to no memoised child
  const virtual = useVirtualizer({
    count: rows.length + 1,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight,
    overscan: 8,
    scrollPaddingStart: rowHeight,
  });
  const width = columns.reduce((sum, c) => sum + c.width, numberWidth);
  const column = columns[active.column];
  const activeRow = rows[active.row];

  // Rows that are not drawn again hold older handlers; what they begin an edit on must be what stands now.
  useLayoutEffect(() => {
    latest.current = rows;
  }, [rows]);
  useEffect(() => onActive?.(activeRow, active.row), [activeRow, active.row, onActive]);

  const go = useCallback(
    (row: number, to: number, extend = false) => {
      const next = {
        row: Math.max(0, Math.min(rows.length, row)),
        column: Math.max(0, Math.min(columns.length - 1, to)),
      };
      setActive(next);
      if (!extend) setAnchor(next);
      reveal(box.current, next.row);
      box.current?.focus({ preventScroll: true });
    },
    [rows.length, columns.length],
  );

  const write = (place: Place, text: string, over: readonly Row[]) => {
    const target = columns[place.column];
    if (!target) return over;
    if (place.row >= over.length && text === '') return over;
    const result = [...over];
    result[place.row] = target.write(over[place.row] ?? fresh(over), text);
    return result;
  };
  const live = useCallback(
    (text: string) => onChange(write(active, text, before.current), `${label}/${active.row}/${active.column}`),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the same function for the whole edit, or each change would start its pause anew
    [active.row, active.column],
  );
  const begin = (text: string) => {
    before.current = latest.current;
    setEdit(text);
  };
  const end = (text: string, how: EditEnd) => {
    const place = active;
    const was = place.row < before.current.length ? (column?.read(before.current[place.row] ?? {}) ?? '') : '';
    const next = how === 'cancel' ? before.current : text === was ? before.current : write(place, text, before.current);
    if (next !== rows) onChange(next, `${label}/${place.row}/${place.column}`);
    setEdit(null);
    box.current?.focus();
    if (how === 'down') go(place.row + 1, place.column);
    if (how === 'right') go(place.row, place.column + 1);
    if (how === 'left') go(place.row, place.column - 1);
  };

  const range = {
    top: Math.min(active.row, anchor.row),
    bottom: Math.min(Math.max(active.row, anchor.row), Math.max(0, rows.length - 1)),
    left: Math.min(active.column, anchor.column),
    right: Math.max(active.column, anchor.column),
  };
  const each = (change: (row: Row, target: GridColumn, index: number) => Row) => {
    const result = [...rows];
    for (let r = range.top; r <= range.bottom && r < rows.length; r++) {
      for (const target of columns.slice(range.left, range.right + 1)) result[r] = change(result[r] ?? {}, target, r);
    }
    onChange(result);
  };
  const fill = (counting: boolean) => {
    const top = rows[range.top];
    if (!top || range.bottom <= range.top) {
      onNotice?.('Choose several rows with Shift and the arrow keys first; the top one is filled down.');
      return;
    }
    const said = new Map(columns.map((c) => [c, c.read(top)]));
    each((row, target, index) => {
      if (index === range.top) return row;
      const text = counting ? countedUp(said.get(target) ?? '') : (said.get(target) ?? '');
      said.set(target, text);
      return target.write(row, text);
    });
  };
  const remove = () => {
    if (range.top >= rows.length) return;
    onChange(rows.filter((_, i) => i < range.top || i > range.bottom));
    onNotice?.(`${range.bottom - range.top + 1} removed; Ctrl and Z brings back.`);
    go(range.top, active.column);
  };

  const key = (event: KeyboardEvent) => {
    if (edit !== null) return;
    const held = event.ctrlKey || event.metaKey;
    const moves: Record<string, [number, number] | undefined> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      PageUp: [-15, 0],
      PageDown: [15, 0],
    };
    const move = moves[event.key];
    if (move && held)
      go(
        move[0] < 0 ? 0 : move[0] > 0 ? rows.length : active.row,
        move[1] < 0 ? 0 : move[1] > 0 ? columns.length : active.column,
        event.shiftKey,
      );
    else if (move) go(active.row + move[0], active.column + move[1], event.shiftKey);
    else if (event.key === 'Home') go(held ? 0 : active.row, 0, event.shiftKey);
    else if (event.key === 'End') go(held ? rows.length : active.row, columns.length, event.shiftKey);
    else if (event.key === 'Enter' || event.key === 'F2') begin(column?.read(rows[active.row] ?? {}) ?? '');
    else if (event.key === 'Delete' && held) remove();
    else if (event.key === 'Delete' || event.key === 'Backspace') each((row, target) => target.write(row, ''));
    else if (held && event.key.toLowerCase() === 'd') fill(event.shiftKey);
    else if (held && event.key.toLowerCase() === 'a') {
      setAnchor({ row: 0, column: 0 });
      setActive({ row: Math.max(0, rows.length - 1), column: columns.length - 1 });
    } else if (!held && !event.altKey && event.key.length === 1) begin(event.key);
    else return;
    event.preventDefault();
  };
  const copy = (event: ClipboardEvent) => {
    const cells = rows
      .slice(range.top, range.bottom + 1)
      .map((r) => columns.slice(range.left, range.right + 1).map((c) => c.read(r)));
    event.clipboardData.setData('text/plain', textOf(cells));
    event.preventDefault();
  };
  const paste = (event: ClipboardEvent) => {
    const result = pasted(
      event.clipboardData.getData('text/plain'),
      rows,
      columns,
      { row: range.top, column: range.left },
      fresh,
    );
    event.preventDefault();
    if (result.count === 0) return;
    onChange(result.rows);
    onNotice?.(`${result.count} ${result.count === 1 ? 'row' : 'rows'} pasted.`);
  };

  return (
    <div
      ref={box}
      role="grid"
      tabIndex={0}
      aria-label={label}
      aria-rowcount={rows.length + 2}
      aria-colcount={columns.length + 1}
      aria-multiselectable="true"
      aria-activedescendant={`${id}-${active.row}-${active.column}`}
      onKeyDown={key}
      onCopy={copy}
      onPaste={paste}
      className="relative min-h-0 flex-1 overflow-auto border-2 contain-strict border-edge bg-card text-[0.95rem] focus-visible:outline-offset-0"
    >
      <div role="row" aria-rowindex={1} className="sticky top-0 z-10 flex bg-well" style={{ width, height: rowHeight }}>
        <div role="columnheader" className="shrink-0 border-r border-b-2 border-edge" style={{ width: numberWidth }}>
          <span className="sr-only">Row</span>
        </div>
        {columns.map((c) => (
          <div
            key={c.key}
            role="columnheader"
            className="flex shrink-0 items-center truncate border-r border-b-2 border-edge px-2 text-soft"
            style={{ width: c.width }}
          >
            {c.head}
          </div>
        ))}
      </div>
      <div className="relative" style={{ height: virtual.getTotalSize(), width }}>
        {virtual.getVirtualItems().map((item) => {
          const chosen = item.index >= range.top && item.index <= Math.max(range.bottom, active.row);
          return (
            <GridRow
              key={item.index}
              id={id}
              index={item.index}
              top={item.start}
              width={width}
              row={rows[item.index]}
              columns={columns}
              marks={marks.get(item.index)}
              active={item.index === active.row ? active.column : -1}
              left={chosen ? range.left : -1}
              right={chosen ? range.right : -1}
              edit={item.index === active.row ? edit : null}
              onPick={go}
              onBegin={begin}
              onLive={live}
              onEnd={end}
            />
          );
        })}
      </div>
    </div>
  );
}

interface RowProps {
  id: string;
  index: number;
  top: number;
  width: number;
  row: Row | undefined;
  columns: readonly GridColumn[];
  marks: RowMarks | undefined;
  active: number;
  left: number;
  right: number;
  edit: string | null;
  onPick: (row: number, column: number, extend?: boolean) => void;
  onBegin: (text: string) => void;
  onLive: (text: string) => void;
  onEnd: (text: string, how: EditEnd) => void;
}

/** Rows that are not being worked on are drawn again only when what they show has changed. */
const GridRow = memo(
  function GridRow({
    id,
    index,
    top,
    width,
    row,
    columns,
    marks,
    active,
    left,
    right,
    edit,
    onPick,
    onBegin,
    onLive,
    onEnd,
  }: RowProps) {
    const own = marks?.get('');
    return (
      <div
        role="row"
        aria-rowindex={index + 2}
        className="absolute flex contain-layout"
        style={{ transform: `translateY(${top}px)`, height: rowHeight, width, zIndex: edit === null ? undefined : 5 }}
      >
        <div
          role="rowheader"
          title={own}
          className={`flex shrink-0 items-center justify-end border-r border-b border-line px-2 font-mono text-sm ${own ? 'bg-fail/15 font-semibold text-fail' : 'text-soft'}`}
          style={{ width: numberWidth }}
        >
          {row ? index + 1 : '+'}
        </div>
        {columns.map((c, i) => {
          const wrong = marks?.get(c.key);
          const text = row ? c.read(row) : '';
          return (
            <div
              key={c.key}
              id={`${id}-${index}-${i}`}
              role="gridcell"
              tabIndex={-1}
              aria-selected={i >= left && i <= right}
              aria-invalid={wrong ? true : undefined}
              title={wrong}
              className={`relative flex shrink-0 items-center gap-2 border-r border-b px-2 ${c.mono ? 'font-mono' : ''} ${
                wrong ? 'border-b-2 border-r-line border-b-fail bg-fail/10' : 'border-line'
              } ${i >= left && i <= right ? 'bg-copper/12' : ''} ${i === active ? 'outline-2 -outline-offset-2 outline-copper' : ''}`}
              style={{ width: c.width }}
              onPointerDown={(e) => {
                if (edit !== null && i === active) return;
                onPick(index, i, e.shiftKey);
              }}
              onMouseDown={(e) => {
                // The grid keeps the focus, whichever cell is active; a cell may be scrolled away.
                if (!(e.target instanceof HTMLInputElement)) e.preventDefault();
              }}
              onDoubleClick={() => onBegin(text)}
            >
              {row && c.mark?.(row)}
              <span className="truncate">{text}</span>
              {wrong && <span className="sr-only">, wrong: {wrong}</span>}
              {i === active && edit !== null && (
                <CellEditor
                  label={`${c.head}, row ${index + 1}`}
                  start={edit}
                  options={c.options?.(row ?? {}) ?? []}
                  onLive={onLive}
                  onEnd={onEnd}
                />
              )}
            </div>
          );
        })}
      </div>
    );
  },
  (a, b) =>
    a.row === b.row &&
    a.top === b.top &&
    a.width === b.width &&
    a.columns === b.columns &&
    a.active === b.active &&
    a.left === b.left &&
    a.right === b.right &&
    a.edit === b.edit &&
    a.edit === null &&
    sameMarks(a.marks, b.marks),
);

const sameMarks = (a: RowMarks | undefined, b: RowMarks | undefined) =>
  a === b || (a?.size === b?.size && [...(a ?? [])].every(([k, v]) => b?.get(k) === v));
