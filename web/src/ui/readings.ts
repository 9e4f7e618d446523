import type { Schemas } from '../api/client';

type Unit = Schemas['ReadingUnit'];

const scales: Record<Unit, [below: number, unit: string, factor: number][]> = {
  ohm: [
    [0.9995, 'mΩ', 1e-3],
    [999.5, 'Ω', 1],
    [999.5e3, 'kΩ', 1e3],
    [Infinity, 'MΩ', 1e6],
  ],
  volt: [
    [0.9995, 'mV', 1e-3],
    [Infinity, 'V', 1],
  ],
};

/** A reading as a person reads it; null is over range. */
export function readingText(value: number | null, unit: Unit): string {
  if (value === null) return 'over range';
  if (value === 0) return unit === 'ohm' ? '0 Ω' : '0 mV';
  const [, name, factor] = scales[unit].find(([below]) => Math.abs(value) < below) ?? [0, '', 1];
  const shown = value / factor;
  const size = Math.abs(shown);
  return `${shown.toFixed(size >= 99.95 ? 0 : size >= 9.995 ? 1 : 2)} ${name}`;
}

/** What may be typed, in a few words. */
export const typedHints: Record<Unit, { example: string; form: string; label: string }> = {
  ohm: {
    example: '72m',
    form: 'a number, then m, k or M (on a keypad / * **); OL or + for over range',
    label: 'Type a reading, such as 72m, 1.2, 12k or OL for over range',
  },
  volt: {
    example: '13 mV',
    form: 'millivolts, or volts with a V behind',
    label: 'Type the drop in millivolts, such as 13.2, or in volts, such as 1.4V',
  },
};

/** What a keypad has no letters for: `/` stands for m, `*` for k, `**` for M, `+` alone for over range. */
function fromKeypad(text: string): string {
  return text === '+' ? 'OL' : text.replace(/\/$/, 'm').replace(/\*\*$/, 'M').replace(/\*$/, 'k');
}

/** Reads what a person types from a meter: `72m`, `0.072`, `12k`, `OL` for over range; a drop as `13.2` (millivolts) or `1.4V`.
 * Undefined when it makes no sense (yet). */
export function readTyped(text: string, unit: Unit): number | null | undefined {
  const plain = fromKeypad(text.trim().replace(',', '.'));
  if (unit === 'volt') {
    const drop = /^(\d+(?:\.\d*)?|\.\d+)\s*(m|mV|V|)$/iu.exec(plain);
    return drop ? Number(drop[1]) * (drop[2]?.toLowerCase() === 'v' ? 1 : 1e-3) : undefined;
  }
  if (/^(ol|o\.l|over|inf|∞)/i.test(plain)) return null;
  const match = /^(\d+(?:\.\d*)?|\.\d+)\s*(m|k|M|)\s*(?:Ω|ohms?)?$/u.exec(plain);
  if (!match) return undefined;
  const factor = { m: 1e-3, k: 1e3, M: 1e6 }[match[2] ?? ''] ?? 1;
  return Number(match[1]) * factor;
}
