import type { Schemas } from '../api/client';

export type Shown = Schemas['ShownAs'];

export const shownWords: Record<Shown, string> = {
  supply: 'supply',
  'five-volts': '5 V',
  ground: 'ground',
  between: 'between',
  floats: 'floats',
};

/** How full the gauge stands for a class of voltage, where the voltage itself is not at hand. */
export const usualShare: Record<Shown, number> = { supply: 1, 'five-volts': 0.4, ground: 0, between: 0.65, floats: 0 };

/** A small upright gauge: filled as far as the voltage reaches towards the supply, empty at ground, dashed where nothing holds it. */
export function Level({ shown, share, height = 16 }: { shown: Shown; share?: number; height?: number }) {
  const width = height * 0.55;
  return (
    <svg
      width={width}
      height={height}
      viewBox="0 0 11 20"
      aria-hidden="true"
      className="inline-block shrink-0 align-middle"
    >
      <LevelMarks shown={shown} share={share ?? usualShare[shown]} />
    </svg>
  );
}

/** The gauge's marks, in a box of 11 by 20. */
export function LevelMarks({ shown, share }: { shown: Shown; share: number }) {
  const filled = Math.max(shown === 'ground' ? 0.1 : 0.16, share) * 18;
  return (
    <>
      <rect
        x="1"
        y="1"
        width="9"
        height="18"
        className="fill-card stroke-ink"
        strokeWidth="1.4"
        strokeDasharray={shown === 'floats' ? '2.5 2.5' : undefined}
      />
      {shown !== 'floats' && (
        <rect
          x="1"
          y={19 - filled}
          width="9"
          height={filled}
          className={shown === 'ground' ? 'fill-ink' : 'fill-copper'}
        />
      )}
    </>
  );
}
