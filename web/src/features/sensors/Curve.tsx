import type { Schemas } from '../../api/client';

const box = { width: 640, height: 300, left: 64, right: 12, top: 12, bottom: 34 };

/** The curve of an NTC: temperature to the right, resistance upwards on a logarithmic scale, the fitted points ringed. */
export function Curve({
  ntc,
  reading,
}: {
  ntc: Schemas['NtcView'];
  reading?: { celsius: number; ohms: number } | undefined;
}) {
  const [first, last] = [ntc.curve[0], ntc.curve.at(-1)];
  if (!first || !last) return null;
  const [low, high] = [Math.floor(Math.log10(last.ohms)), Math.ceil(Math.log10(first.ohms))];
  const x = (celsius: number) =>
    box.left + ((celsius - first.celsius) / (last.celsius - first.celsius)) * (box.width - box.left - box.right);
  const y = (ohms: number) =>
    box.top + ((high - Math.log10(ohms)) / (high - low)) * (box.height - box.top - box.bottom);
  const decades = Array.from({ length: high - low + 1 }, (_, i) => low + i);
  const tens = ntc.table.filter((t) => t.celsius >= first.celsius && t.celsius <= last.celsius && t.celsius % 20 === 0);
  return (
    <svg
      viewBox={`0 0 ${box.width} ${box.height}`}
      className="w-full max-w-3xl border-2 border-edge bg-card"
      role="img"
      aria-label={`Curve from ${first.celsius.toFixed(0)} °C, ${first.ohmsText}, to ${last.celsius.toFixed(0)} °C, ${last.ohmsText}`}
    >
      {decades.map((d) => (
        <g key={d}>
          <line x1={box.left} x2={box.width - box.right} y1={y(10 ** d)} y2={y(10 ** d)} className="stroke-line" />
          <text x={box.left - 6} y={y(10 ** d) + 4} textAnchor="end" fontSize="13" className="fill-soft font-mono">
            {decade(d)}
          </text>
        </g>
      ))}
      {tens.map((t) => (
        <g key={t.celsius}>
          <line x1={x(t.celsius)} x2={x(t.celsius)} y1={box.top} y2={box.height - box.bottom} className="stroke-line" />
          <text x={x(t.celsius)} y={box.height - 12} textAnchor="middle" fontSize="13" className="fill-soft font-mono">
            {t.celsius} °C
          </text>
        </g>
      ))}
      <polyline
        points={ntc.curve.map((c) => `${x(c.celsius)},${y(c.ohms)}`).join(' ')}
        fill="none"
        className="stroke-copper"
        strokeWidth="2.5"
      />
      {ntc.points.map((p) => (
        <circle
          key={p.celsius}
          cx={x(p.celsius)}
          cy={y(p.ohms)}
          r="6"
          className="fill-card stroke-ink"
          strokeWidth="2.5"
        />
      ))}
      {reading && reading.celsius >= first.celsius && reading.celsius <= last.celsius && (
        <path
          d={`M${box.left} ${y(reading.ohms)}H${x(reading.celsius)}V${box.height - box.bottom}`}
          className="fill-none stroke-ink"
          strokeWidth="2"
          strokeDasharray="6 4"
        />
      )}
    </svg>
  );
}

function decade(d: number) {
  return d >= 6 ? `${10 ** (d - 6)} MΩ` : d >= 3 ? `${10 ** (d - 3)} kΩ` : `${10 ** d} Ω`;
}
