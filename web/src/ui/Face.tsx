import { memo, useMemo } from 'react';
import { Stripes } from './WireMark';
import type { Schemas } from '../api/client';

type Connector = Schemas['ConnectorView'];
export type Side = 'mating' | 'wire';

export const sideWords: Record<Side, string> = { mating: 'mating face', wire: 'wire side' };

const cell = 34;

/** A connector's face: every cavity with its name and its wire, one of them ringed. */
export function Face({
  connector,
  side,
  ringed,
  onPick,
}: {
  connector: Connector;
  side: Side;
  ringed?: string | undefined;
  onPick?: (cavity: string) => void;
}) {
  const face = side === 'mating' ? connector.matingFace : connector.wireSide;
  const pins = useMemo(() => new Map(connector.pins.map((p) => [p.cavity, p])), [connector]);
  const [w, h] = [face.columns * cell + 20, face.rows * cell + 20];
  const round = connector.housing === 'inline' ? 26 : 8;
  const spoken = ringed ? face.cells.find((c) => c.cavity === ringed)?.spoken : undefined;
  return (
    <svg
      viewBox={`0 0 ${w} ${h}`}
      className="block max-h-full max-w-full"
      style={{ width: Math.min(w * 1.9, 720) }}
      role="img"
      aria-label={`${connector.ref}, ${sideWords[side]}${ringed ? `, cavity ${ringed} ringed${spoken ? `: ${spoken}` : ''}` : ''}`}
    >
      <rect
        x="1.5"
        y="1.5"
        width={w - 3}
        height={h - 3}
        rx={round}
        className="fill-well stroke-ink"
        strokeWidth="1.5"
      />
      {face.cells.map((c) => (
        <Cavity key={c.cavity} at={c} pin={pins.get(c.cavity)} here={c.cavity === ringed} onPick={onPick} />
      ))}
    </svg>
  );
}

const Cavity = memo(function Cavity({
  at,
  pin,
  here,
  onPick,
}: {
  at: Connector['matingFace']['cells'][number];
  pin: Connector['pins'][number] | undefined;
  here: boolean;
  onPick: ((cavity: string) => void) | undefined;
}) {
  const colour = pin?.colours[0];
  return (
    <g
      transform={`translate(${10 + (at.x - 0.5) * cell} ${10 + (at.y - 0.5) * cell})`}
      onClick={onPick && (() => onPick(at.cavity))}
    >
      <title>{`${at.cavity}: ${at.spoken}${pin?.function ? `, ${pin.function}` : ''}`}</title>
      <rect
        x="2"
        y="2"
        width={cell - 4}
        height={cell - 4}
        rx="4"
        className={colour ? 'fill-card stroke-edge' : 'fill-none stroke-line'}
        strokeDasharray={colour ? undefined : '3 2'}
      />
      <text
        x={cell / 2}
        y={colour ? 17 : 21}
        textAnchor="middle"
        className={`font-mono ${colour ? 'fill-ink' : 'fill-soft'} ${here ? 'font-semibold' : ''}`}
        fontSize={at.cavity.length > 2 ? 10 : 13}
      >
        {at.cavity}
      </text>
      {colour && (
        <svg x="5" y="22">
          <Stripes colour={colour} width={cell - 10} height={7} />
        </svg>
      )}
      {here && (
        <rect
          x="-2"
          y="-2"
          width={cell + 4}
          height={cell + 4}
          rx="8"
          className="fill-none stroke-copper"
          strokeWidth="5"
        />
      )}
    </g>
  );
});
