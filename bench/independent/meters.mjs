// Meters as their papers describe them, with errors of their own.
const meters = {
  'bench-four-wire': { touch: 0.0005, lead: 0, ranges: [[1, 0.03, 8, 0.0001], [100, 0.02, 4, 0.001], [10_000, 0.02, 4, 0.1], [1e6, 0.05, 4, 10], [1e8, 1, 4, 1000]] },
  'hand-two-wire': { touch: 0.1, lead: 0.3, ranges: [[400, 0.8, 3, 0.1], [4000, 0.8, 2, 1], [40_000, 0.8, 2, 10], [400_000, 0.8, 2, 100], [4e6, 1.2, 3, 1000], [4e7, 2, 5, 10_000]] },
};

/** A meter in somebody's hands: what its leads add stays the same for a case, each touch is a little different. */
export function meterOf(name, random) {
  const { touch, lead, ranges } = meters[name];
  const left = lead * random();
  const gain = random() * 2 - 1;
  return (ohm) => {
    if (ohm > ranges.at(-1)[0]) return null;
    const [, percent, counts, step] = ranges.find(([upTo]) => ohm <= upTo);
    const shown = ohm + left + (touch * (random() * 2 - 1)) / 2 + (gain * percent * ohm) / 200 + (counts * step * (random() * 2 - 1)) / 2;
    return Math.max(0, Math.round(shown / step) * step);
  };
}

/** Whether a meter would surely show one value as other than another: by its worst case for both. */
export function couldShow(name, one, other) {
  const { touch, ranges } = meters[name];
  const off = (ohm) => {
    const [, percent, counts, step] = ranges.find(([upTo]) => ohm <= upTo);
    return touch / 2 + (percent * ohm) / 200 + (counts * step) / 2 + step;
  };
  const [a, b] = [one, other].map((ohm) => (ohm > ranges.at(-1)[0] ? null : ohm));
  return a === null || b === null ? a !== b : Math.abs(a - b) > off(a) + off(b);
}
