const units: [number, string][] = [
  [0.9995, 'mΩ'],
  [999.5, 'Ω'],
  [999.5e3, 'kΩ'],
  [Infinity, 'MΩ'],
];
const scale: Record<string, number> = { mΩ: 1e-3, Ω: 1, kΩ: 1e3, MΩ: 1e6 };

/** A resistance as a person reads it; null is over range. */
export function ohmsText(ohms: number | null): string {
  if (ohms === null) return 'over range';
  if (ohms === 0) return '0 Ω';
  const unit = units.find(([below]) => Math.abs(ohms) < below)?.[1] ?? 'MΩ';
  const value = ohms / (scale[unit] ?? 1);
  const size = Math.abs(value);
  return `${value.toFixed(size >= 99.95 ? 0 : size >= 9.995 ? 1 : 2)} ${unit}`;
}

/** Reads what a person types from a meter: `72m`, `0.072`, `12k`, `OL` for over range. Undefined when it makes no sense (yet). */
export function readOhms(text: string): number | null | undefined {
  const plain = text.trim().replace(',', '.');
  if (/^(ol|o\.l|over|inf|∞)/i.test(plain)) return null;
  const match = /^(\d+(?:\.\d*)?|\.\d+)\s*(m|k|M|)\s*(?:Ω|ohms?)?$/u.exec(plain);
  if (!match) return undefined;
  const factor = { m: 1e-3, k: 1e3, M: 1e6 }[match[2] ?? ''] ?? 1;
  return Number(match[1]) * factor;
}
