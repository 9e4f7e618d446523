// Hidden faults against ./wise-loom diagnose, with readings made by code that shares nothing with it but the file.
//   node bench/independent/trial.mjs LOOM [faults 0|1|2] [cases] [seed] [bench-four-wire|hand-two-wire] [thorough|neighbours] [OUT.json, for calibration.mjs]
import { execFileSync, spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import { called, hide, names } from './faults.mjs';
import { between, build, dice, metalOf, netsOf, readLoom } from './loom.mjs';
import { couldShow, meterOf } from './meters.mjs';

const [file, faults = '1', cases = '100', seed = '1', meter = 'bench-four-wire', isolation = 'thorough', out] = process.argv.slice(2);
const program = fileURLToPath(new URL('../../wise-loom', import.meta.url));
const most = 16;
const loom = readLoom(file);
const nets = netsOf(loom);
const places = [...nets.keys()].filter((p) => p.includes(':'));
const { steps } = JSON.parse(execFileSync(program, ['plan', file, '--isolation', isolation, '--meter', meter.startsWith('hand') ? 'hand' : 'bench'], { maxBuffer: 1 << 28, stdio: ['ignore', 'pipe', 'ignore'] }));

const player = spawn(program, ['diagnose', file, '-'], { stdio: ['pipe', 'pipe', 'ignore'] });
const answers = createInterface({ input: player.stdout })[Symbol.asyncIterator]();
const ask = async (readings) => {
  player.stdin.write(`${JSON.stringify({ readings, meter })}\n`);
  return JSON.parse((await answers.next()).value);
};

const list = (p) => (Array.isArray(p) ? p : [p]);

// Seconds of hands from one reading to the next: a probe that changes its place, more in another plug, more where the shorting plug is cleared.
const go = (from, to) => (from === to ? 0 : 2.5 + (from?.split(':')[0] === to?.split(':')[0] ? 0 : 8));
const handsTo = (from, to) => {
  const [[a, b], [c, d]] = [from, to].map((r) => [list(r.a)[0], r.b === null ? null : list(r.b)[0]]);
  return 5 + (to.b === null ? 5 : 0) + Math.min(go(a, c) + go(b, d), go(a, d) + go(b, c));
};
const tally = new Map();
const [extras, seconds, times, sure, missed] = [[], [], [], [], []];
const bands = Array.from({ length: 10 }, (_, i) => ({ from: i / 10, given: 0, answers: 0, right: 0 }));
let found = 0;
let unseen = 0;
for (let i = 0; i < Number(cases); i++) {
  const random = dice(Number(seed) * 100_003 + i);
  const hidden = hide(loom, Number(faults), random, isolation === 'thorough' && !meter.startsWith('hand'));
  const metal = metalOf(build(loom, hidden, Number(seed) * 7919 + i));
  const shows = meterOf(meter, random);
  const ohms = (of, a, b) => {
    const own = new Set(list(a).map((p) => nets.get(p)));
    return between(of, list(a), b === null ? places.filter((p) => !own.has(nets.get(p))) : list(b));
  };
  const read = (a, b) => ({ a, b, ohm: shows(ohms(metal, a, b)) });

  // Whether a meter would show each fault somewhere in the plan, with the same copper but without that fault.
  const isSeen = () => hidden.every((fault) => {
    const without = metalOf(build(loom, hidden.filter((f) => f !== fault), Number(seed) * 7919 + i));
    return steps.some((s) => couldShow(meter, ohms(metal, s.a, s.b ?? null), ohms(without, s.a, s.b ?? null)));
  });
  const readings = steps.map((s) => read(s.a, s.b ?? null));
  let answer;
  let extra = 0;
  let work = 0;
  for (; ; extra++) {
    const begun = performance.now();
    answer = await ask(readings);
    times.push(performance.now() - begun);
    const given = answer.ranking[0].probability;
    const band = bands[Math.min(9, Math.floor(given * 10))];
    Object.assign(band, { given: band.given + given, answers: band.answers + 1, right: band.right + (names(answer, hidden) ? 1 : 0) });
    if (!answer.next || extra === most) break;
    work += handsTo(readings.at(-1), answer.next);
    readings.push(read(answer.next.a, answer.next.b));
  }
  const right = names(answer, hidden);
  const counts = right || isSeen();
  found += right ? 1 : 0;
  unseen += counts ? 0 : 1;
  extras.push(extra);
  seconds.push(work);
  sure.push([answer.ranking[0].probability, right]);
  for (const kind of hidden.length === 0 ? ['nothing'] : hidden.map(called)) {
    const t = tally.get(kind) ?? { cases: 0, found: 0, unseen: 0 };
    tally.set(kind, { cases: t.cases + 1, found: t.found + (right ? 1 : 0), unseen: t.unseen + (counts ? 0 : 1) });
  }
  if (!right && counts) missed.push(`${JSON.stringify(hidden)} was called ${answer.ranking[0].probability}: ${answer.ranking[0].sentence}`);
}
player.stdin.end();
const middle = (of, share = 0.5) => [...of].sort((a, b) => a - b)[Math.floor(share * (of.length - 1))];
console.log(`${file}, ${meter}, ${isolation}: ${found} of ${cases} first, ${unseen} of the others this meter could not see; extra measurements ${middle(extras)} in the median, ${(seconds.reduce((a, b) => a + b, 0) / seconds.length).toFixed(0)} s of hands on average; a ranking ${middle(times).toFixed(0)} ms, 95 % ${middle(times, 0.95).toFixed(0)} ms`);
for (const [kind, t] of [...tally].sort()) console.log(`  ${kind.padEnd(10)} ${t.found} of ${t.cases}${t.unseen > 0 ? `, ${t.unseen} unseen` : ''}`);
for (const [from, to] of [[0, 0.8], [0.8, 0.95], [0.95, 0.99], [0.99, 1.01]]) {
  const some = sure.filter(([p]) => p >= from && p < to);
  if (some.length > 0) console.log(`  said with ${from} to ${Math.min(1, to)}: ${some.filter(([, right]) => right).length} of ${some.length} right`);
}
for (const words of missed.slice(0, 8)) console.log(`  ${words}`);
if (out) {
  const calibration = bands.filter((b) => b.answers > 0).map((b) => ({ ...b, given: b.given / b.answers }));
  writeFileSync(out, JSON.stringify({ loom: file, meter, isolation, faults: Number(faults), cases: Number(cases), found, unseen, extra: middle(extras), ms: middle(times), ms95: middle(times, 0.95), kinds: Object.fromEntries(tally), calibration }));
}
