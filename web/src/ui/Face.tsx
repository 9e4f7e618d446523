import { memo, useMemo } from 'react';
import { LevelMarks, type Shown } from './Level';
import { Stripes } from './WireMark';
import type { Schemas } from '../api/client';

type Connector = Schemas['ConnectorView'];
export type Side = 'mating' | 'wire';

export const sideWords: Record<Side, string> = { mating: 'mating face', wire: 'wire side' };

const cell = 34;

/** The cavity that is ringed, or several. */
type Ringed = string | readonly string[] | undefined;

const isRinged = (ringed: Ringed, cavity: string) =>
  typeof ringed === 'string' ? ringed === cavity : (ringed?.includes(cavity) ?? false);

type Layout = Schemas['FaceLayout'];

/** What a cavity holds, as far as a face shows it. */
export interface Filling {
  colour?: Schemas['ColourView'] | undefined;
  words?: string | undefined;
  /** Dealt with, or not: drawn as a full or an open cavity. */
  full: boolean;
  /** What it shows in a key position. */
  level?: { shown: Shown; share: number } | undefined;
}

/** A connector's face: every cavity with its name and its wire, some of them ringed. */
export function Face({
  connector,
  side,
  ringed,
  onPick,
  onUnder,
  levels,
}: {
  connector: Connector;
  side: Side;
  /** What its cavities show in a key position. */
  levels?: ReadonlyMap<string, { shown: Shown; share: number; text: string }> | undefined;
  ringed?: Ringed;
  onPick?: (cavity: string) => void;
  onUnder?: (cavity: string | null) => void;
}) {
  const face = side === 'mating' ? connector.matingFace : connector.wireSide;
  const fillings = useMemo(
    () =>
      new Map(
        connector.pins.map((p) => {
          const level = levels?.get(p.cavity);
          const words = level ? `${p.function}, ${level.text}` : p.function;
          return [p.cavity, { colour: p.colours[0], words, full: p.colours.length > 0, level }];
        }),
      ),
    [connector, levels],
  );
  const rings = face.cells.filter((c) => isRinged(ringed, c.cavity));
  return (
    <FaceDrawing
      face={face}
      label={`${connector.ref}, ${sideWords[side]}${rings.map((c) => `, cavity ${c.cavity} ringed: ${c.spoken}`).join('')}`}
      inline={connector.housing === 'inline'}
      fillings={fillings}
      ringed={ringed}
      onPick={onPick}
      onUnder={onUnder}
    />
  );
}

/** The drawing itself, of a connector or of a family alone. */
export function FaceDrawing({
  face,
  label,
  inline = false,
  fillings,
  ringed,
  onPick,
  onUnder,
}: {
  face: Layout;
  label: string;
  inline?: boolean;
  fillings?: ReadonlyMap<string, Filling>;
  ringed?: Ringed;
  onPick?: ((cavity: string) => void) | undefined;
  /** Told which cavity the pointer is over, and null when it has left. */
  onUnder?: ((cavity: string | null) => void) | undefined;
}) {
  const [w, h] = [face.columns * cell + 20, face.rows * cell + 20];
  return (
    <svg
      viewBox={`0 0 ${w} ${h}`}
      className="block max-h-full max-w-full"
      style={{ width: Math.min(w * 1.9, 720) }}
      role="img"
      aria-label={label}
    >
      <rect
        x="1.5"
        y="1.5"
        width={w - 3}
        height={h - 3}
        rx={inline ? 26 : 8}
        className="fill-well stroke-ink"
        strokeWidth="1.5"
      />
      {face.cells.map((c) => (
        <Cavity
          key={c.cavity}
          at={c}
          filling={fillings ? fillings.get(c.cavity) : bare}
          here={isRinged(ringed, c.cavity)}
          onPick={onPick}
          onUnder={onUnder}
        />
      ))}
    </svg>
  );
}

const bare: Filling = { full: true };

const Cavity = memo(function Cavity({
  at,
  filling,
  here,
  onPick,
  onUnder,
}: {
  at: Layout['cells'][number];
  filling: Filling | undefined;
  here: boolean;
  onPick: ((cavity: string) => void) | undefined;
  onUnder: ((cavity: string | null) => void) | undefined;
}) {
  const colour = filling?.colour;
  const full = filling?.full ?? false;
  const inset = at.large ? 0 : 2;
  return (
    <g
      transform={`translate(${10 + (at.x - 0.5) * cell} ${10 + (at.y - 0.5) * cell})`}
      onClick={onPick && (() => onPick(at.cavity))}
      onPointerEnter={onUnder && (() => onUnder(at.cavity))}
      onPointerLeave={onUnder && (() => onUnder(null))}
    >
      <title>{`${at.cavity}: ${at.spoken}${filling?.words ? `, ${filling.words}` : ''}${at.large ? ', large contact' : ''}`}</title>
      <rect
        x={inset}
        y={inset}
        width={cell - 2 * inset}
        height={cell - 2 * inset}
        rx={at.large ? 9 : 4}
        className={full ? 'fill-card stroke-edge' : 'fill-none stroke-line'}
        strokeWidth={at.large ? 2.5 : 1}
        strokeDasharray={full ? undefined : '3 2'}
      />
      <text
        x={(cell - (filling?.level ? 11 : 0)) / 2}
        y={colour ? 17 : 21}
        textAnchor="middle"
        className={`font-mono ${full ? 'fill-ink' : 'fill-soft'} ${here ? 'font-semibold' : ''}`}
        fontSize={at.cavity.length > 2 ? 10 : 13}
      >
        {at.cavity}
      </text>
      {colour && (
        <svg x="5" y="22">
          <Stripes colour={colour} width={cell - (filling.level ? 19 : 10)} height={7} />
        </svg>
      )}
      {filling?.level && (
        <svg x={cell - 13} y="13" width="10" height="18" viewBox="0 0 11 20">
          <LevelMarks {...filling.level} />
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
