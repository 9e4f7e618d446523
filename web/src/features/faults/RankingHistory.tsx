import type { Schemas } from '../../api/client';
import { Scroll } from '../../ui/Scroll';
import { percent } from './CauseList';

const box = { width: 640, height: 150, left: 56, right: 12, top: 12, bottom: 26 };
const dashes = ['', '7 4', '2 4', '12 3 2 3'];

/** How the shares of the likeliest causes moved with each reading: a line for each, and the same as a table. */
export function RankingHistory({ history }: { history: Schemas['RankedThenView'][] }) {
  if (history.length < 2) return null;
  const share = (h: Schemas['RankedThenView'], title: string) => h.top.find((t) => t.title === title)?.probability ?? 0;
  // What leads now comes first, then what led on the way.
  const now = history[history.length - 1];
  const weight = (title: string) =>
    (now ? share(now, title) * 2 : 0) + Math.max(...history.map((h) => share(h, title)));
  const titles = [...new Set(history.flatMap((h) => h.top.map((t) => t.title)))]
    .sort((a, b) => weight(b) - weight(a))
    .slice(0, 4);
  const x = (i: number) => box.left + (i / (history.length - 1)) * (box.width - box.left - box.right);
  const y = (p: number) => box.top + (1 - p) * (box.height - box.top - box.bottom);
  return (
    <section aria-labelledby="moved">
      <h4 id="moved" className="mb-1 font-bold">
        How the ranking moved
      </h4>
      <svg
        viewBox={`0 0 ${box.width} ${box.height}`}
        className="w-full max-w-3xl border-2 border-edge bg-card"
        role="img"
        aria-label="Shares of the likeliest causes after each reading; the table below holds them all"
      >
        {[0, 0.5, 1].map((p) => (
          <g key={p}>
            <line x1={box.left} x2={box.width - box.right} y1={y(p)} y2={y(p)} className="stroke-line" />
            <text x={box.left - 8} y={y(p) + 5} textAnchor="end" fontSize="14" className="fill-soft font-mono">
              {p * 100} %
            </text>
          </g>
        ))}
        {history.map((_, i) => (
          <text key={i} x={x(i)} y={box.height - 7} textAnchor="middle" fontSize="13" className="fill-soft">
            {i === 0 ? 'plan' : i}
          </text>
        ))}
        {titles.map((title, t) => (
          <g key={title} className={t === 0 ? 'text-copper' : 'text-ink'}>
            <polyline
              points={history.map((h, i) => `${x(i)},${y(share(h, title))}`).join(' ')}
              fill="none"
              stroke="currentColor"
              strokeWidth={t === 0 ? 3 : 2}
              strokeDasharray={dashes[t]}
            />
            {history.map((h, i) => (
              <circle key={i} cx={x(i)} cy={y(share(h, title))} r="3.5" fill="currentColor" />
            ))}
          </g>
        ))}
      </svg>
      <Scroll label="How the ranking moved, reading by reading" className="mt-2 max-w-full">
        <table className="border-collapse text-left text-sm">
          <thead>
            <tr className="border-b-2 border-edge">
              <th className="py-1 pr-4">After</th>
              {titles.map((t, i) => (
                <th key={t} className="max-w-56 py-1 pr-4 align-bottom">
                  <svg
                    viewBox="0 0 40 6"
                    className={`mb-1 block h-1.5 w-10 ${i === 0 ? 'text-copper' : 'text-ink'}`}
                    aria-hidden="true"
                  >
                    <line
                      x1="0"
                      x2="40"
                      y1="3"
                      y2="3"
                      stroke="currentColor"
                      strokeWidth="3"
                      strokeDasharray={dashes[i]}
                    />
                  </svg>
                  {t}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {history.map((h, i) => (
              <tr key={i} className="border-b border-line">
                <td className="min-w-40 py-1 pr-4">{h.reading ? `${i}: ${h.reading} (${h.by ?? ''})` : 'the plan'}</td>
                {titles.map((t) => (
                  <td key={t} className="py-1 pr-4 font-mono">
                    {percent(share(h, t))}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </section>
  );
}
