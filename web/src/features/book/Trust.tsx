import type { Schemas } from '../../api/client';
import { ways } from './words';

const bars: Record<string, number> = { running: 3, loom: 2, print: 1 };

/** How far a line can be trusted: one, two or three strokes, and the words. */
export function Trust({ vouched }: { vouched: readonly Schemas['VouchView'][] }) {
  const best = vouched[0];
  const full = best ? (bars[best.how] ?? 0) : 0;
  const words = best ? `${ways[best.how] ?? best.how}, ${best.by}` : 'nobody vouches for it';
  return (
    <span
      className="inline-flex items-center gap-2 whitespace-nowrap"
      title={vouched.map((v) => `${ways[v.how] ?? v.how}: ${v.by}, ${v.at.slice(0, 10)}`).join('\n')}
    >
      <svg width="26" height="16" viewBox="0 0 26 16" aria-hidden="true">
        {[0, 1, 2].map((i) => (
          <rect
            key={i}
            x={1 + i * 9}
            y={10 - i * 4}
            width="6"
            height={5 + i * 4}
            strokeWidth="1.5"
            className={i < full ? 'fill-ink stroke-ink' : 'fill-none stroke-edge'}
          />
        ))}
      </svg>
      <span className="text-sm">{words}</span>
    </span>
  );
}
