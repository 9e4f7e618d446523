/** Round values between two ends, in steps of 1, 2 or 5 times a power of ten. */
export function ticks(from: number, to: number, about = 5): number[] {
  const span = to - from;
  if (!(span > 0)) return [from];
  const rough = span / about;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= rough) ?? power;
  const first = Math.ceil(from / step);
  const count = Math.floor(to / step) - first + 1;
  return Array.from({ length: Math.max(0, count) }, (_, i) => (first + i) * step);
}

/** The stretch of values to draw: all that counts and its limits, with a margin; values far beyond are drawn at the edge. */
export function stretch(
  values: readonly number[],
  limits: readonly { least: number; most: number }[],
): [number, number] {
  const most = Math.max(...limits.map((l) => l.most), 0);
  const near = values.filter((v) => v <= 4 * most);
  const high = Math.max(most, ...near);
  return [0, high > 0 ? high * 1.15 : 1];
}

/** A resistance as a scale says it. */
export function ohms(value: number): string {
  if (value === 0) return '0';
  return value < 1 ? `${Number((value * 1000).toPrecision(3))} mΩ` : `${Number(value.toPrecision(3))} Ω`;
}

/** A moment in the words of the stretch that it is in: with seconds in minutes, with minutes in a day, else the day. */
export function moment(time: number, span: number): string {
  return new Date(time).toLocaleString(
    undefined,
    span < 300_000
      ? { hour: '2-digit', minute: '2-digit', second: '2-digit' }
      : span < 86_400_000
        ? { hour: '2-digit', minute: '2-digit' }
        : { month: 'short', day: 'numeric' },
  );
}

/** Where a stretch of time is marked, and in which words: its ends and its middle, no words twice. */
export function moments(
  first: number,
  last: number,
): { at: number; words: string; anchor: 'start' | 'middle' | 'end' }[] {
  const all = [
    { at: first, anchor: 'start' as const },
    { at: first + (last - first) / 2, anchor: 'middle' as const },
    { at: last, anchor: 'end' as const },
  ].map((m) => ({ ...m, words: moment(m.at, last - first) }));
  const told = all.filter((m, i) => m.words !== all[i - 1]?.words);
  return told.length === 1 ? told.map((m) => ({ ...m, anchor: 'middle' as const })) : told;
}
