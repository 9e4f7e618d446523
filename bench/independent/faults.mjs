// Hidden faults of every kind that shows on a bare loom, and whether an answer names them.
import { cavitiesOf, netsOf, wiredAt } from './loom.mjs';

/** @param along Whether two wires may touch along the way: only a thorough plan with a meter of milliohms shows that. */
export function hide(loom, count, random, along) {
  const nets = netsOf(loom);
  const wired = wiredAt(loom);
  const any = (list) => list[Math.floor(random() * list.length)];
  const connectors = [...loom.connectors.values()];
  const at = (c, x) => `${c.ref}:${x}`;
  const holds = (c, x) => wired.has(at(c, x));
  const makers = {
    open: () => ({ kind: 'open', wire: any(loom.wires).id, end: any(['from', 'to', null]) }),
    missing: () => ({ kind: 'missing', wire: any(loom.wires).id }),
    resistive: () => ({ kind: 'resistive', wire: any(loom.wires).id, end: any(['from', 'to']), ohm: Math.exp(Math.log(0.3) + random() * Math.log(50 / 0.3)) }),
    short: (c) => {
      const pairs = c.rows.flatMap((row, r) => row.flatMap((x, i) => [row[i + 1], c.rows[r + 1]?.[i]].filter((y) => x != null && y != null).map((y) => [x, y])));
      const [x, y] = any(pairs.filter(([p, q]) => holds(c, p) && holds(c, q) && nets.get(at(c, p)) !== nets.get(at(c, q)))) ?? [];
      return x === undefined ? null : { kind: 'short', a: at(c, x), b: at(c, y), ohm: random() };
    },
    along: () => {
      const [a, b] = [any(loom.wires), any(loom.wires)];
      return nets.get(a.from) === nets.get(b.from) ? null : { kind: 'short', a: a.id, b: b.id, ohm: 0.3 * random(), alongMm: [a, b].map((w) => Math.round(w.lengthMm * (0.1 + 0.8 * random()))) };
    },
    swap: (c) => {
      const here = cavitiesOf(c).filter((x) => holds(c, x));
      const [x, y] = [any(here), any(here)];
      return x === undefined || nets.get(at(c, x)) === nets.get(at(c, y)) ? null : { kind: 'swap', connector: c.ref, cavities: [x, y] };
    },
    misplaced: (c) => {
      const [from, to] = [any(cavitiesOf(c).filter((x) => holds(c, x))), any(cavitiesOf(c).filter((x) => !holds(c, x)))];
      return from === undefined || to === undefined ? null : { kind: 'misplaced', connector: c.ref, from, to };
    },
    mirrored: (c) => {
      const changes = c.rows.some((r) => r.some((x, i) => x !== null && r[r.length - 1 - i] !== null && nets.get(at(c, x)) !== nets.get(at(c, r[r.length - 1 - i]))));
      const fits = c.rows.every((r) => r.every((x, i) => x === null || !holds(c, x) || r[r.length - 1 - i] !== null));
      return changes && fits ? { kind: 'mirrored', connector: c.ref } : null;
    },
    shift: (c) => {
      const runs = c.rows.flatMap((row) => [1, -1].flatMap((by) => row.flatMap((head, h) => {
        if (head === null || holds(c, head)) return [];
        const found = [];
        for (let i = h - by, run = []; i >= 0 && i < row.length && row[i] !== null && holds(c, row[i]); i -= by) {
          run = [...run, row[i]];
          if (run.length > 1) found.push({ kind: 'shift', connector: c.ref, cavities: by > 0 ? [...run].reverse() : run, by });
        }
        return found;
      })));
      return any(runs) ?? null;
    },
  };
  const faults = [];
  for (let tries = 0; faults.length < count && tries < 2000; tries++) {
    const fault = makers[any(Object.keys(makers).filter((k) => along || k !== 'along'))](any(connectors));
    if (fault && faults.every((f) => (f.wire ?? f.connector ?? f.a) !== (fault.wire ?? fault.connector ?? fault.a))) faults.push(fault);
  }
  return faults;
}

const key = (f) => {
  if (f.kind === 'open' || f.kind === 'missing') return `open ${f.wire}`;
  if (f.kind === 'resistive') return `resistive ${f.wire}`;
  if (f.kind === 'short') return `${f.alongMm ? 'along' : 'short'} ${[f.a, f.b].sort().join(' ')}`;
  if (f.kind === 'swap') return `swap ${f.connector} ${[...f.cavities].sort().join(' ')}`;
  if (f.kind === 'shift') return `shift ${f.connector} ${f.by} ${f.cavities.join(' ')}`;
  return `${f.kind} ${f.connector} ${f.from ?? ''} ${f.to ?? ''}`;
};

/** What a fault is counted as. */
export const called = (f) => (f.alongMm ? 'along' : f.kind);

/** Whether the first group of an answer holds what was hidden. */
export const names = (answer, hidden) => {
  const truth = hidden.map(key).sort().join('|');
  return [answer.ranking[0].faults, ...answer.ranking[0].alike].some((one) => one.map(key).sort().join('|') === truth);
};
