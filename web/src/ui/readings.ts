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
  newton: [[Infinity, 'N', 1]],
  sight: [[Infinity, '', 1]],
};

/** A reading as a person reads it; null is over range. */
export function readingText(value: number | null, unit: Unit): string {
  if (value === null) return 'over range';
  if (unit === 'sight') return value > 0.5 ? 'as it should be' : 'not as it should be';
  if (value === 0) return { ohm: '0 Ω', volt: '0 mV', newton: '0 N' }[unit];
  if (unit === 'newton') return `${value.toFixed(value < 9.95 && value % 1 !== 0 ? 1 : 0)} N`;
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
    form: 'millivolts, or volts with a V behind; OL or + for over range',
    label: 'Type the drop in millivolts, such as 13.2, or in volts, such as 1.4V',
  },
  newton: {
    example: '85',
    form: 'a force in newtons',
    label: 'Type the force at which the sample gave way, in newtons',
  },
  sight: {
    example: '1',
    form: '1 for as it should be, 0 for not',
    label: 'Type 1 when all is as it should be, 0 when not',
  },
};

/** A value as a reading is sent: in the field of its unit. */
export function sentAs(value: number | null, unit: Unit) {
  return {
    ohms: unit === 'ohm' ? value : null,
    volts: unit === 'volt' ? value : null,
    newtons: unit === 'newton' ? value : null,
    asItShould: unit === 'sight' && value !== null ? value > 0.5 : null,
    overRange: value === null,
  };
}

/** The value of a reading as it was sent, whatever its unit. */
export function sentValue(reading: {
  ohms: number | null;
  volts?: number | null;
  newtons?: number | null;
  asItShould?: boolean | null;
}): { value: number | null; unit: Unit } {
  if (reading.volts != null) return { value: reading.volts, unit: 'volt' };
  if (reading.newtons != null) return { value: reading.newtons, unit: 'newton' };
  if (reading.asItShould != null) return { value: reading.asItShould ? 1 : 0, unit: 'sight' };
  return { value: reading.ohms, unit: 'ohm' };
}

/** What a keypad has no letters for: `/` stands for m, `*` for k, `**` for M, `+` alone for over range. */
function fromKeypad(text: string): string {
  return text === '+' ? 'OL' : text.replace(/\/$/, 'm').replace(/\*\*$/, 'M').replace(/\*$/, 'k');
}

/** Reads what a person types from a meter: `72m`, `0.072`, `12k`, `OL` for over range; a drop as `13.2` (millivolts) or `1.4V`.
 * Undefined when it makes no sense (yet). */
export function readTyped(text: string, unit: Unit): number | null | undefined {
  const plain = fromKeypad(text.trim().replace(',', '.'));
  if (unit === 'sight') return { '1': 1, '0': 0 }[plain];
  if (unit === 'newton') {
    const force = /^(\d+(?:\.\d*)?|\.\d+)\s*N?$/iu.exec(plain);
    return force ? Number(force[1]) : undefined;
  }
  if (/^(ol|o\.l|over|inf|∞)/i.test(plain)) return null;
  if (unit === 'volt') {
    const drop = /^(\d+(?:\.\d*)?|\.\d+)\s*(m|mV|V|)$/iu.exec(plain);
    return drop ? Number(drop[1]) * (drop[2]?.toLowerCase() === 'v' ? 1 : 1e-3) : undefined;
  }
  const match = /^(\d+(?:\.\d*)?|\.\d+)\s*(m|k|M|)\s*(?:Ω|ohms?)?$/u.exec(plain);
  if (!match) return undefined;
  const factor = { m: 1e-3, k: 1e3, M: 1e6 }[match[2] ?? ''] ?? 1;
  return Number(match[1]) * factor;
}
