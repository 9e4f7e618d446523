import { memo } from 'react';
import { MarkShape, markWords, type Mark } from './Verdict';
import type { Schemas } from '../api/client';

type StemView = Schemas['StemView'];

const tagHeight = 44;
const gap = 26;

/** The trunk to scale with every connector as a tag where it leaves: the navigation of a job. */
export const Stem = memo(function Stem({
  stem,
  titles,
  marks,
  chosen,
  onChoose,
}: {
  stem: StemView;
  titles: Map<string, string>;
  marks: Map<string, Mark>;
  chosen: readonly string[];
  onChoose: (connector: string | null) => void;
}) {
  const side = gap + stem.lanes * (tagHeight + 4);
  const height = side * 2 + 8;
  const middle = height / 2;
  const top = (t: StemView['tags'][number]) =>
    t.above ? middle - 4 - gap - (t.lane + 1) * (tagHeight + 4) + 4 : middle + 4 + gap + t.lane * (tagHeight + 4);
  return (
    <nav aria-label="Stem: connectors along the trunk" className="overflow-x-auto">
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
        {stem.tags.map((t) => (
          <Tag
            key={t.connector}
            tag={t}
            width={stem.tagWidth}
            top={top(t)}
            title={titles.get(t.connector) ?? ''}
            mark={marks.get(t.connector)}
            here={chosen.includes(t.connector)}
            onChoose={onChoose}
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
  here,
  onChoose,
}: {
  tag: StemView['tags'][number];
  width: number;
  top: number;
  title: string;
  mark: Mark | undefined;
  here: boolean;
  onChoose: (connector: string | null) => void;
}) {
  return (
    <button
      type="button"
      aria-pressed={here}
      aria-label={`${tag.connector}, ${title}${mark ? `, ${markWords[mark].toLowerCase()}` : ''}`}
      title={`${tag.connector}: ${title}`}
      onClick={() => onChoose(here ? null : tag.connector)}
      className={`absolute flex cursor-pointer flex-col items-center justify-center gap-0.5 rounded-sm border-2 px-0 leading-none ${here ? 'z-10 border-copper bg-copper text-on-copper' : 'border-edge bg-card hover:border-copper'}`}
      style={{
        left: `calc(${(tag.centre - width / 2) * 100}% + 1px)`,
        width: `calc(${width * 100}% - 2px)`,
        top,
        height: tagHeight,
      }}
    >
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
