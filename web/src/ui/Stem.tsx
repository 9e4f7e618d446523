import { memo, useEffect, useRef, type ReactNode } from 'react';
import { useTagDrag } from './useTagDrag';
import { MarkShape, markWords, type Mark } from './Verdict';
import type { Schemas } from '../api/client';

type StemView = Schemas['StemView'];

/** A drawing for a tag and its words. */
export interface Badge {
  drawn: ReactNode;
  words: string;
}

const tagHeight = 44;
const gap = 26;

/** The trunk to scale with every connector as a tag where it leaves: the navigation of a job. */
export const Stem = memo(function Stem({
  stem,
  titles,
  marks,
  chosen,
  onChoose,
  onMove,
  badges,
  paths,
}: {
  stem: StemView;
  titles: Map<string, string>;
  marks: Map<string, Mark>;
  /** What stands on a tag instead of its mark, and how it is said. */
  badges?: ReadonlyMap<string, Badge> | undefined;
  /** Ways of a current, each a list of connectors in its direction. */
  paths?: readonly (readonly string[])[] | undefined;
  chosen: readonly string[];
  onChoose: (connector: string | null) => void;
  /** Where a tag was dragged to, as millimetres along the trunk from where it leaves now; without it tags stay put. */
  onMove?: ((connector: string, byMm: number) => void) | undefined;
}) {
  const side = gap + stem.lanes * (tagHeight + 4);
  const height = side * 2 + 8;
  const middle = height / 2;
  const top = (t: StemView['tags'][number]) =>
    t.above ? middle - 4 - gap - (t.lane + 1) * (tagHeight + 4) + 4 : middle + 4 + gap + t.lane * (tagHeight + 4);
  const nav = useRef<HTMLElement>(null);
  const first = stem.tags.find((t) => chosen.includes(t.connector));
  const across = first?.centre ?? null;
  const down = first ? top(first) + tagHeight / 2 : middle;
  useEffect(() => bringIn(nav.current, across, down), [across, down]);
  return (
    <nav
      ref={nav}
      aria-label="Stem: connectors along the trunk"
      className="max-h-[max(16rem,32dvh)] overflow-auto contain-content"
    >
      <div className="@container relative min-w-225 overflow-hidden" style={{ height }}>
        <svg
          className="absolute inset-0 h-full w-full"
          viewBox={`0 0 1000 ${height}`}
          preserveAspectRatio="none"
          aria-hidden="true"
        >
          {stem.tags.map((t) => (
            <polyline
              key={t.connector}
              points={`${t.leavesAt * 1000},${middle} ${t.leavesAt * 1000},${t.above ? middle - 8 : middle + 8} ${t.centre * 1000},${t.above ? top(t) + tagHeight : top(t)}`}
              fill="none"
              className={chosen.includes(t.connector) ? 'stroke-copper' : 'stroke-edge'}
              strokeWidth={chosen.includes(t.connector) ? 3 : 1.25}
              vectorEffect="non-scaling-stroke"
            />
          ))}
          {legs(stem, paths).map(({ from, to }, i) => (
            <polyline
              key={i}
              points={`${from.centre * 1000},${from.above ? top(from) + tagHeight : top(from)} ${from.leavesAt * 1000},${from.above ? middle - 8 : middle + 8} ${from.leavesAt * 1000},${middle - 9} ${to.leavesAt * 1000},${middle - 9} ${to.leavesAt * 1000},${to.above ? middle - 8 : middle + 8} ${to.centre * 1000},${to.above ? top(to) + tagHeight : top(to)}`}
              fill="none"
              className="stroke-ink"
              strokeWidth="3.5"
              strokeDasharray="9 4"
              vectorEffect="non-scaling-stroke"
            />
          ))}
          <line
            x1="0"
            x2="1000"
            y1={middle}
            y2={middle}
            className="stroke-copper"
            strokeWidth="7"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        {stem.marks.map((m) => (
          <span
            key={m.id}
            title={`${m.kind}: ${m.id}`}
            className="absolute w-2 -translate-x-1/2 bg-ink"
            style={{ left: `${m.at * 100}%`, top: middle - 10, height: 20 }}
          />
        ))}
        {legs(stem, paths)
          .filter(({ from, to }) => Math.abs(from.leavesAt - to.leavesAt) > 0.02)
          .map(({ from, to }, i) => (
            <span
              key={i}
              aria-hidden="true"
              className="absolute z-10 -translate-x-1/2 text-xl leading-none font-bold text-ink"
              style={{ left: `${((from.leavesAt + to.leavesAt) / 2) * 100}%`, top: middle - 22 }}
            >
              {to.leavesAt > from.leavesAt ? '▸' : '◂'}
            </span>
          ))}
        {stem.tags.map((t) => (
          <Tag
            key={t.connector}
            tag={t}
            width={stem.tagWidth}
            top={top(t)}
            title={titles.get(t.connector) ?? ''}
            mark={badges ? undefined : marks.get(t.connector)}
            badge={badges?.get(t.connector)}
            here={chosen.includes(t.connector)}
            onChoose={onChoose}
            onMove={onMove}
            trunkMm={stem.trunkMm}
          />
        ))}
      </div>
    </nav>
  );
});

const Tag = memo(function Tag({
  tag,
  width,
  top,
  title,
  mark,
  badge,
  here,
  onChoose,
  onMove,
  trunkMm,
}: {
  badge: Badge | undefined;
  tag: StemView['tags'][number];
  width: number;
  top: number;
  title: string;
  mark: Mark | undefined;
  here: boolean;
  onChoose: (connector: string | null) => void;
  onMove: ((connector: string, byMm: number) => void) | undefined;
  trunkMm: number;
}) {
  const drag = useTagDrag(trunkMm, onMove && ((by) => onMove(tag.connector, by)));
  return (
    <button
      type="button"
      aria-pressed={here}
      aria-label={`${tag.connector}, ${title}${mark ? `, ${markWords[mark].toLowerCase()}` : ''}${badge ? `, ${badge.words}` : ''}`}
      title={`${tag.connector}: ${title}${onMove ? ' (drag, or Alt and an arrow key, to move it along the trunk)' : ''}`}
      onClick={() => drag.moved.current || onChoose(here ? null : tag.connector)}
      {...drag.handlers}
      className={`absolute flex flex-col items-center justify-center gap-0.5 rounded-sm border-2 px-0 leading-none ${onMove ? 'cursor-ew-resize touch-none' : 'cursor-pointer'} ${here ? 'z-10 border-copper bg-copper text-on-copper' : 'border-edge bg-card hover:border-copper'}`}
      style={{
        left: `calc(${(tag.centre - width / 2) * 100}% + 1px)`,
        width: `calc(${width * 100}% - 2px)`,
        top,
        height: tagHeight,
        transform: drag.px ? `translateX(${drag.px}px)` : undefined,
      }}
    >
      {drag.px !== 0 && (
        <span className="absolute -top-6 z-20 bg-ink px-1 font-mono text-sm whitespace-nowrap text-paper">
          {drag.byMm > 0 ? '+' : '−'}
          {Math.abs(drag.byMm)} mm
        </span>
      )}
      {badge && (
        <span className={`flex gap-px rounded-sm ${here ? 'bg-card px-1 py-px' : 'px-0.5'}`}>{badge.drawn}</span>
      )}
      {mark && (
        <span className={`flex size-4.5 items-center justify-center rounded-full ${here ? 'bg-card' : ''}`}>
          <MarkShape mark={mark} size={13} />
        </span>
      )}
      <span
        className="max-w-full overflow-hidden font-bold whitespace-nowrap"
        style={{ fontSize: `min(0.85rem, ${((width * 100) / (tag.connector.length * 0.78)).toFixed(3)}cqw)` }}
      >
        {tag.connector}
      </span>
    </button>
  );
});

/** Scrolls the stem of a large loom, or of any loom on a narrow screen, to a place on it that is out of sight; the page stays where it is. */
function bringIn(nav: HTMLElement | null, across: number | null, down: number) {
  if (!nav) return;
  const isIn = (at: number, from: number, long: number) =>
    at - tagHeight / 2 >= from && at + tagHeight / 2 <= from + long;
  if (!isIn(down, nav.scrollTop, nav.clientHeight)) nav.scrollTop = down - nav.clientHeight / 2;
  const left = (across ?? 0) * nav.scrollWidth;
  if (across !== null && !isIn(left, nav.scrollLeft, nav.clientWidth)) nav.scrollLeft = left - nav.clientWidth / 2;
}

/** Steps of the ways from tag to tag. */
function legs(stem: StemView, paths: readonly (readonly string[])[] | undefined) {
  const at = new Map(stem.tags.map((t) => [t.connector, t]));
  return (paths ?? []).flatMap((path) => {
    const tags = path.flatMap((c) => at.get(c) ?? []);
    return tags.slice(1).flatMap((to, i) => (tags[i] ? [{ from: tags[i], to }] : []));
  });
}
