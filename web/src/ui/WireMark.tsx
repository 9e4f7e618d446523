import type { Schemas } from '../api/client';

/** A short piece of the wire in its own colours, with its code. */
export function WireMark({ colour, long = false }: { colour: Schemas['ColourView']; long?: boolean }) {
  return (
    <span className="inline-flex items-center gap-2 whitespace-nowrap" title={colour.spoken}>
      <Stripes colour={colour} width={long ? 72 : 26} height={long ? 16 : 12} />
      <span className="font-mono">{colour.text || '—'}</span>
      {long && <span className="text-soft">{colour.spoken}</span>}
    </span>
  );
}

/** The insulation: base colour with tracers running along it. */
export function Stripes({ colour, width, height }: { colour: Schemas['ColourView']; width: number; height: number }) {
  const [base, ...tracers] = colour.stripes;
  const band = height / (tracers.length === 2 ? 5 : 3);
  return (
    <svg width={width} height={height} aria-hidden="true" className="shrink-0">
      <rect
        x="0.5"
        y="0.5"
        width={width - 1}
        height={height - 1}
        fill={base ?? 'none'}
        className="stroke-ink"
        strokeDasharray={base ? undefined : '3 2'}
      />
      {tracers.map((hex, i) => (
        <rect key={hex} x="1" y={band * (2 * i + 1)} width={width - 2} height={band} fill={hex} />
      ))}
    </svg>
  );
}
