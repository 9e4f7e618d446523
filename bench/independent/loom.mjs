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
  let edges = loom.wires.map((w) => ({ id: w.id, from: w.from, to: w.to, ohm: (w.copper * warm * (0.97 + 0.07 * random()) + end(w.from) + end(w.to)) / 1000 }));
  const bridges = [];
  const lengths = new Map(loom.wires.map((w) => [w.id, w.lengthMm]));
  const tap = (id, mm) => {
    const at = `${id}@`;
    edges = edges.flatMap((x) => (x.id === id ? [{ ...x, to: at, ohm: (x.ohm * mm) / lengths.get(id) }, { ...x, from: at, ohm: x.ohm * (1 - mm / lengths.get(id)) }] : [x]));
    return at;
  };
  const move = (connector, moves) => {
    const to = (e) => (isPoint(e) && e.startsWith(`${connector}:`) && moves[e.slice(connector.length + 1)] !== undefined ? `${connector}:${moves[e.slice(connector.length + 1)]}` : e);
    edges = edges.map((x) => ({ ...x, from: to(x.from), to: to(x.to) }));
  };
  for (const f of faults) {
    const { rows } = loom.connectors.get(f.connector) ?? { rows: [] };
    if (f.kind === 'open' || f.kind === 'missing') edges = edges.filter((x) => x.id !== f.wire);
    else if (f.kind === 'resistive') edges = edges.map((x) => (x.id === f.wire ? { ...x, ohm: x.ohm + f.ohm } : x));
    else if (f.kind === 'short' && f.alongMm) bridges.push({ id: 'bridge', from: tap(f.a, f.alongMm[0]), to: tap(f.b, f.alongMm[1]), ohm: f.ohm });
    else if (f.kind === 'short') bridges.push({ id: 'bridge', from: f.a, to: f.b, ohm: f.ohm });
    else if (f.kind === 'swap') move(f.connector, { [f.cavities[0]]: f.cavities[1], [f.cavities[1]]: f.cavities[0] });
    else if (f.kind === 'misplaced') move(f.connector, { [f.from]: f.to });
    else if (f.kind === 'mirrored') move(f.connector, Object.fromEntries(rows.flatMap((r) => r.map((c, i) => [c, r[r.length - 1 - i]])).filter(([a, b]) => a !== null && b !== null)));
    else if (f.kind === 'shift') move(f.connector, Object.fromEntries(f.cavities.map((c) => { const row = rows.find((r) => r.includes(c)); return [c, row[row.indexOf(c) + f.by]]; })));
    else throw new Error(`no ${f.kind}`);
  }
  return [...edges, ...bridges];
}

/** Ohms between two sets of places, each joined; Infinity where nothing leads. By Gauss on the piece of metal that both are on. */
export function between(edges, a, b) {
  const links = new Map();
  const name = (p) => (a.includes(p) ? '(a)' : b.includes(p) ? '(b)' : p);
  for (const e of edges) {
    const [u, v] = [name(e.from), name(e.to)];
    if (u === v) continue;
    for (const [x, y] of [[u, v], [v, u]]) links.set(x, [...(links.get(x) ?? []), [y, 1 / Math.max(e.ohm, 1e-9)]]);
  }
  const place = new Map([['(a)', 0]]);
  for (const queue = ['(a)']; queue.length > 0; ) for (const [to] of links.get(queue.shift()) ?? []) if (!place.has(to)) { place.set(to, place.size); queue.push(to); }
  if (!place.has('(b)')) return Infinity;
  const n = place.size - 1;
  const matrix = Array.from({ length: n }, () => new Float64Array(n + 1));
  for (const [from, i] of place) for (const [to, g] of links.get(from) ?? []) {
    if (i === 0) continue;
    matrix[i - 1][i - 1] += g;
    const j = place.get(to);
    if (j > 0) matrix[i - 1][j - 1] -= g;
  }
  matrix[place.get('(b)') - 1][n] = 1;
  for (let k = 0; k < n; k++) for (let i = k + 1; i < n; i++) {
    const f = matrix[i][k] / matrix[k][k];
    if (f !== 0) for (let j = k; j <= n; j++) matrix[i][j] -= f * matrix[k][j];
  }
  const volts = new Float64Array(n);
  for (let i = n - 1; i >= 0; i--) {
    let sum = matrix[i][n];
    for (let j = i + 1; j < n; j++) sum -= matrix[i][j] * volts[j];
    volts[i] = sum / matrix[i][i];
  }
  return volts[place.get('(b)') - 1];
}

/** Names of the drawn nets by place. */
export function netsOf(loom) {
  const net = new Map();
  const find = (p) => { let r = p; while (net.get(r) !== r) r = net.get(r); return r; };
  for (const w of loom.wires) for (const e of [w.from, w.to]) if (!net.has(e)) net.set(e, e);
  for (const w of loom.wires) net.set(find(w.from), find(w.to));
  return new Map([...net.keys()].map((p) => [p, find(p)]));
}
