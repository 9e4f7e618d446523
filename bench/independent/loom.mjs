// A loom as metal, made from its file alone: nothing here is shared with the program that is tried.
import { readFileSync } from 'node:fs';

const usualContact = { min: 1, nominal: 4, max: 10 };
const usualLeg = { min: 0.1, nominal: 0.5, max: 2 };

const range = (value, usual) => (value === undefined || value === null ? usual : typeof value === 'number' ? { min: value, nominal: value, max: value } : value);

/** Numbers between 0 and 1 that are the same for the same seed. */
export function dice(seed) {
  let state = (seed * 2654435761 + 12345) >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const triangle = (random, { min, nominal, max }) => {
  const u = random();
  const split = max > min ? (nominal - min) / (max - min) : 0;
  return u < split ? min + Math.sqrt(u * (max - min) * (nominal - min)) : max - Math.sqrt((1 - u) * (max - min) * (max - nominal));
};

export function readLoom(file) {
  const json = JSON.parse(readFileSync(file, 'utf8'));
  const families = new Map(json.families.map((f) => [f.id, f]));
  const connectors = new Map(json.connectors.map((c) => [c.ref, { ref: c.ref, rows: families.get(c.family).rows.map((r) => r), contact: range(families.get(c.family).contactMilliohm, usualContact) }]));
  const splices = new Map((json.splices ?? []).map((s) => [s.ref, range(s.legMilliohm, usualLeg)]));
  const area = (w) => w.mm2 ?? (Math.PI / 4) * (0.127 * 92 ** ((36 - w.awg) / 39)) ** 2;
  const wires = json.wires.map((w) => ({ id: w.id, from: w.from, to: w.to, lengthMm: w.lengthMm, copper: (17.241 / area(w)) * (w.lengthMm / 1000) }));
  return { connectors, splices, wires, ambientC: json.loom.ambientC ?? 20 };
}

const isPoint = (end) => end.includes(':');
export const cavitiesOf = (connector) => connector.rows.flat().filter((c) => c !== null);
export const wiredAt = (loom) => new Set(loom.wires.flatMap((w) => [w.from, w.to]).filter(isPoint));

/** The metal of a loom with faults in it, each part with a value of its own. */
export function build(loom, faults, seed) {
  const random = dice(seed);
  const warm = 1 + 0.00393 * (loom.ambientC - 20);
  const end = (e) => triangle(random, isPoint(e) ? loom.connectors.get(e.split(':')[0]).contact : loom.splices.get(e));

  // A wire is a contact, copper with whatever touches it along the way, and a contact.
  const wires = new Map(loom.wires.map((w) => [w.id, { from: w.from, to: w.to, lengthMm: w.lengthMm, copper: w.copper * warm * (0.97 + 0.07 * random()) / 1000, ends: { from: end(w.from) / 1000, to: end(w.to) / 1000 }, taps: [], cuts: [] }]));
  const bridges = [];
  const tap = (id, mm) => {
    const at = `${id}@${mm}`;
    wires.get(id).taps.push([mm, at]);
    return at;
  };
  const move = (connector, moves) => {
    const to = (e) => (isPoint(e) && e.startsWith(`${connector}:`) && moves[e.slice(connector.length + 1)] !== undefined ? `${connector}:${moves[e.slice(connector.length + 1)]}` : e);
    for (const w of wires.values()) Object.assign(w, { from: to(w.from), to: to(w.to) });
  };
  for (const f of faults) {
    const { rows } = loom.connectors.get(f.connector) ?? { rows: [] };
    if (f.kind === 'missing') wires.get(f.wire).cuts = ['from', 'middle', 'to'];
    else if (f.kind === 'open') wires.get(f.wire).cuts.push(f.end ?? 'middle');
    else if (f.kind === 'resistive') wires.get(f.wire).ends[f.end] += f.ohm;
    else if (f.kind === 'short' && f.alongMm) bridges.push({ id: 'bridge', from: tap(f.a, f.alongMm[0]), to: tap(f.b, f.alongMm[1]), ohm: f.ohm });
    else if (f.kind === 'short') bridges.push({ id: 'bridge', from: f.a, to: f.b, ohm: f.ohm });
    else if (f.kind === 'swap') move(f.connector, { [f.cavities[0]]: f.cavities[1], [f.cavities[1]]: f.cavities[0] });
    else if (f.kind === 'misplaced') move(f.connector, { [f.from]: f.to });
    else if (f.kind === 'mirrored') move(f.connector, Object.fromEntries(rows.flatMap((r) => r.map((c, i) => [c, r[r.length - 1 - i]])).filter(([a, b]) => a !== null && b !== null)));
    else if (f.kind === 'shift') move(f.connector, Object.fromEntries(f.cavities.map((c) => { const row = rows.find((r) => r.includes(c)); return [c, row[row.indexOf(c) + f.by]]; })));
    else throw new Error(`no ${f.kind}`);
  }
  return [...[...wires].flatMap(([id, w]) => partsOf(id, w)), ...bridges];
}

/** What conducts of a wire: a cut takes out a contact, or parts the copper in its middle. */
function partsOf(id, { from, to, lengthMm, copper, ends, taps, cuts }) {
  const middle = cuts.includes('middle') ? [[lengthMm / 2, `${id}<`], [lengthMm / 2, `${id}>`]] : [];
  const places = [[0, `${id} from`], ...[...taps, ...middle].sort(([a], [b]) => a - b), [lengthMm, `${id} to`]];
  const parts = places.slice(1).map(([mm, at], i) => ({ from: places[i][1], to: at, ohm: (copper * (mm - places[i][0])) / lengthMm }));
  return [
    ...(cuts.includes('from') ? [] : [{ from, to: places[0][1], ohm: ends.from }]),
    ...parts.filter((p) => !(p.from.endsWith('<') && p.to.endsWith('>'))),
    ...(cuts.includes('to') ? [] : [{ from: places.at(-1)[1], to, ohm: ends.to }]),
  ];
}

/** Parts by the places they join, and the piece of metal that each place is on. */
export function metalOf(edges) {
  const links = new Map();
  for (const e of edges) for (const [x, y] of [[e.from, e.to], [e.to, e.from]]) links.set(x, [...(links.get(x) ?? []), [y, 1 / Math.max(e.ohm, 1e-9)]]);
  const pieces = new Map();
  for (const start of links.keys()) {
    if (pieces.has(start)) continue;
    const piece = [start];
    pieces.set(start, piece);
    for (let i = 0; i < piece.length; i++) for (const [to] of links.get(piece[i])) if (!pieces.has(to)) { pieces.set(to, piece); piece.push(to); }
  }
  return { links, pieces };
}

/** Ohms between two sets of places, each joined; Infinity where nothing leads. Every place but the two is taken out of its pieces of metal, ends of branches first: what is left between them conducts. */
export function between({ links, pieces }, a, b) {
  const [from, to] = [a, b].map((side) => new Set(side.map((p) => pieces.get(p)).filter(Boolean)));
  if (![...from].some((piece) => to.has(piece))) return Infinity;
  const [near, far] = [new Set(a), new Set(b)];
  const name = (p) => (near.has(p) ? '(a)' : far.has(p) ? '(b)' : p);
  const own = [...new Set([...from, ...to])].flat();
  const siemens = new Map([['(a)', new Map()], ['(b)', new Map()], ...own.map((p) => [p, new Map()])]);
  const join = (x, y, g) => {
    siemens.get(x).set(y, (siemens.get(x).get(y) ?? 0) + g);
    siemens.get(y).set(x, (siemens.get(y).get(x) ?? 0) + g);
  };
  for (const p of own) for (const [q, g] of links.get(p)) if (p < q && name(p) !== name(q)) join(name(p), name(q), g);
  for (const p of own.reverse()) {
    if (near.has(p) || far.has(p)) continue;
    const star = [...siemens.get(p)];
    const sum = star.reduce((all, [, g]) => all + g, 0);
    siemens.delete(p);
    for (const [q] of star) siemens.get(q).delete(p);
    for (let i = 0; i < star.length; i++) for (let j = 0; j < i; j++) join(star[i][0], star[j][0], (star[i][1] * star[j][1]) / sum);
  }
  const g = siemens.get('(a)').get('(b)');
  return g === undefined ? Infinity : 1 / g;
}

/** Names of the drawn nets by place. */
export function netsOf(loom) {
  const net = new Map();
  const find = (p) => { let r = p; while (net.get(r) !== r) r = net.get(r); return r; };
  for (const w of loom.wires) for (const e of [w.from, w.to]) if (!net.has(e)) net.set(e, e);
  for (const w of loom.wires) net.set(find(w.from), find(w.to));
  return new Map([...net.keys()].map((p) => [p, find(p)]));
}
