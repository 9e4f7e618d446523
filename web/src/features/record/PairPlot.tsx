import type { Schemas } from '../../api/client';
import { moment, moments, ohms, stretch, ticks } from './plotScale';

const box = { width: 720, height: 300, left: 76, right: 16, top: 14, bottom: 36 };

/** Readings of a pair over time, with what passed then as a band. This loom's are filled, others' open; a fail is a crossed square. */
export function PairPlot({ readings }: { readings: Schemas['PairLifeView']['readings'] }) {
  const times = readings.map((r) => new Date(r.at).getTime());
  const [first, last] = [Math.min(...times), Math.max(...times)];
  const span = last - first;
  const [low, high] = stretch(
    readings.flatMap((r) => (r.ohm === null ? [] : [r.ohm])),
    readings,
  );
  const inner = { width: box.width - box.left - box.right, height: box.height - box.top - box.bottom };
  const x = (time: number) => box.left + (span > 0 ? (time - first) / span : 0.5) * inner.width;
  const y = (value: number) => box.top + (1 - Math.min(1, (value - low) / (high - low))) * inner.height;
  return (
    <svg
      viewBox={`0 0 ${box.width} ${box.height}`}
      className="w-full max-w-4xl border-2 border-edge bg-card"
      role="img"
      aria-label={`${readings.length} readings from ${moment(first, span)} to ${moment(last, span)}; the table below holds them all`}
    >
      {ticks(low, high).map((value) => (
        <g key={value}>
          <line x1={box.left} x2={box.width - box.right} y1={y(value)} y2={y(value)} className="stroke-line" />
          <text x={box.left - 8} y={y(value) + 5} textAnchor="end" fontSize="14" className="fill-soft font-mono">
            {ohms(value)}
          </text>
        </g>
      ))}
      {moments(first, last).map(({ at, words, anchor }) => (
        <text key={at} x={x(at)} y={box.height - 12} textAnchor={anchor} fontSize="14" className="fill-soft">
          {words}
        </text>
      ))}
      {readings.map((r, i) => {
        const [cx, from, to] = [x(times[i] ?? first), y(r.most), y(r.least)];
        return <rect key={i} x={cx - 7} width={14} y={from} height={Math.max(1, to - from)} className="fill-pass/25" />;
      })}
      {readings.map((r, i) => {
        const [cx, cy] = [x(times[i] ?? first), r.ohm === null ? box.top : y(r.ohm)];
        const opacity = r.counts ? 1 : 0.45;
        return r.verdict === 'fail' ? (
          <path
            key={i}
            d={`M${cx - 6} ${cy - 6}h12v12h-12zM${cx - 6} ${cy - 6}l12 12M${cx + 6} ${cy - 6}l-12 12`}
            className="fill-card stroke-fail"
            strokeWidth="2"
            opacity={opacity}
          />
        ) : (
          <circle
            key={i}
            cx={cx}
            cy={cy}
            r="5.5"
            className={`stroke-ink ${r.mine ? 'fill-copper' : 'fill-card'}`}
            strokeWidth="2"
            opacity={opacity}
          />
        );
      })}
    </svg>
  );
}
