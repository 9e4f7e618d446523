import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';

const step = 10;
const threshold = 4;

/** A tag that can be dragged along the trunk: by pointer, or 10 mm at a time by Alt and an arrow key. */
export function useTagDrag(trunkMm: number, onMove: ((byMm: number) => void) | undefined) {
  const from = useRef<{ x: number; width: number } | null>(null);
  const moved = useRef(false);
  const [px, setPx] = useState(0);
  const [byMm, setByMm] = useState(0);
  if (!onMove) return { handlers: {}, moved, px: 0, byMm: 0 };
  return {
    moved,
    px,
    byMm,
    handlers: {
      onPointerDown: (e: PointerEvent<HTMLElement>) => {
        moved.current = false;
        from.current = { x: e.clientX, width: e.currentTarget.parentElement?.clientWidth ?? 1 };
        e.currentTarget.setPointerCapture(e.pointerId);
      },
      onPointerMove: (e: PointerEvent) => {
        const start = from.current;
        if (!start) return;
        const by = e.clientX - start.x;
        if (!moved.current && Math.abs(by) < threshold) return;
        moved.current = true;
        setPx(by);
        setByMm(Math.round(((by / start.width) * trunkMm) / step) * step);
      },
      onPointerUp: () => {
        from.current = null;
        if (moved.current && byMm !== 0) onMove(byMm);
        setPx(0);
        setByMm(0);
      },
      onKeyDown: (e: KeyboardEvent) => {
        const way = { ArrowLeft: -step, ArrowRight: step }[e.key];
        if (!e.altKey || way === undefined) return;
        e.preventDefault();
        onMove(way);
      },
    },
  };
}
