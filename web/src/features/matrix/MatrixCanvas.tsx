import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useSyncExternalStore,
  type KeyboardEvent,
  type MouseEvent,
} from 'react';
import type { Schemas } from '../../api/client';
import { useLight } from '../../ui/light';
import type { MatrixModel } from './matrixModel';
import { inksOf, paintView, strip, type Inks, type View } from './paint';

const dark = matchMedia('(prefers-color-scheme: dark)');
const onDark = (tell: () => void) => {
  dark.addEventListener('change', tell);
  return () => dark.removeEventListener('change', tell);
};

/** The matrix itself: scrolled as any page is, painted where it is in sight. */
export function MatrixCanvas({
  matrix,
  model,
  cell,
  outlined,
  at,
  label,
  onAt,
  onEnter,
}: {
  matrix: Schemas['MatrixView'];
  model: MatrixModel;
  cell: number;
  outlined: View['outlined'];
  at: View['at'];
  /** What the cell at the cursor says. */
  label: string;
  onAt: (row: number, column: number) => void;
  onEnter: () => void;
}) {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [light] = useLight();
  const isDark = useSyncExternalStore(onDark, () => dark.matches);
  // What was painted holds until the drawing, the readings, the size of a cell or the theme change.
  const tiles = useMemo(
    () => ({
      of: [matrix, model, cell, light, isDark],
      kept: new Map<string, HTMLCanvasElement>(),
      inks: null as Inks | null,
    }),
    [matrix, model, cell, light, isDark],
  );
  const asked = useRef(0);
  const paint = useCallback(() => {
    cancelAnimationFrame(asked.current);
    asked.current = requestAnimationFrame(() => {
      const [box, sheet] = [frame.current, canvas.current];
      if (!box || !sheet) return;
      const ratio = Math.min(2, window.devicePixelRatio || 1);
      const [width, height] = [Math.round(box.clientWidth * ratio), Math.round(box.clientHeight * ratio)];
      if (sheet.width !== width || sheet.height !== height) {
        [sheet.width, sheet.height] = [width, height];
        sheet.style.width = `${box.clientWidth}px`;
        sheet.style.height = `${box.clientHeight}px`;
      }
      tiles.inks ??= inksOf(box);
      const view = { matrix, model, inks: tiles.inks, cell, tiles: tiles.kept, outlined, at };
      paintView(sheet, view, box.scrollLeft, box.scrollTop, ratio);
      sheet.dataset.painted = '';
    });
  }, [matrix, model, cell, tiles, outlined, at]);
  useEffect(() => {
    paint();
    const box = frame.current;
    if (!box) return;
    const sized = new ResizeObserver(paint);
    sized.observe(box);
    void document.fonts.ready.then(paint);
    return () => sized.disconnect();
  }, [paint]);
  useEffect(() => {
    // The cursor stays in sight.
    const box = frame.current;
    if (!box) return;
    const into = (from: number, room: number, place: number) =>
      place < from ? place : place + cell > from + room ? place + cell - room : from;
    box.scrollTo({
      left: into(box.scrollLeft, box.clientWidth - strip.left, at[1] * cell),
      top: into(box.scrollTop, box.clientHeight - strip.top, at[0] * cell),
    });
  }, [at, cell]);

  const step = (event: KeyboardEvent) => {
    const move = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
    if (event.key === 'Enter') onEnter();
    if (!move) return;
    event.preventDefault();
    const clamp = (n: number) => Math.min(model.size - 1, Math.max(0, n));
    onAt(clamp(at[0] + (move[0] ?? 0)), clamp(at[1] + (move[1] ?? 0)));
  };
  const choose = (event: MouseEvent) => {
    const box = frame.current;
    if (!box) return;
    const edge = box.getBoundingClientRect();
    const column = Math.floor((event.clientX - edge.left - strip.left + box.scrollLeft) / cell);
    const row = Math.floor((event.clientY - edge.top - strip.top + box.scrollTop) / cell);
    if (event.clientX - edge.left < strip.left || event.clientY - edge.top < strip.top) return;
    if (row >= 0 && row < model.size && column >= 0 && column < model.size) onAt(row, column);
  };
  const whole = model.size * cell;
  return (
    // A matrix of 2,000 points has four million cells: it is drawn, not laid out, and takes the keys itself.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <div
      ref={frame}
      role="application"
      aria-roledescription="matrix"
      aria-label={`Points by points. ${label}`}
      // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
      tabIndex={0}
      onScroll={paint}
      onKeyDown={step}
      onClick={choose}
      onDoubleClick={onEnter}
      className="relative min-h-72 min-w-0 flex-1 cursor-crosshair overflow-auto border-2 border-edge"
    >
      <div style={{ width: whole + strip.left, height: whole + strip.top }}>
        <canvas ref={canvas} className="sticky top-0 left-0 block" data-testid="matrix" />
      </div>
    </div>
  );
}
