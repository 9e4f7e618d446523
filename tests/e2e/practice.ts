import { randomUUID } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { Client } from './client.ts';
import { demoFile, shopUrl } from './hands.ts';
import { standIn } from './server.ts';

export type Fault = { kind: string } & Record<string, unknown>;

/** A meter of its own that carries a demo loom with hidden faults, entered as an instrument of the shop. */
export async function practiceMeter(loom: string, faults: readonly Fault[], seed: number) {
  const file = `${tmpdir()}/wise-loom-faults-${process.pid}-${seed}.json`;
  writeFileSync(file, JSON.stringify(faults));
  const { port, stop } = await standIn(`demo/${loom}`, file, seed);
  const lead = await Client.signIn(shopUrl(), 'ada');
  const name = `Practice ${port}, seed ${seed}`;
  const { id } = await lead.post<{ id: number }>('/api/instruments', {
    name,
    profile: 'bench-four-wire',
    host: '127.0.0.1',
    port,
    matrix: true,
  });
  return { id, name, stop };
}

/** Enters a controller that listens here. */
export async function enterController(name: string, port: number, shop = shopUrl()) {
  const lead = await Client.signIn(shop, 'ada');
  // Another spec may enter its own at the same moment: then the version is another, and it is tried over the newer one.
  for (let entered = false; !entered;) {
    const { limits, version } = await lead.get<{ limits: { powerUp: { controllers: object[] } }; version: number }>(
      '/api/limits',
    );
    const powerUp = {
      ...limits.powerUp,
      controllers: [...limits.powerUp.controllers, { name, host: '127.0.0.1', port }],
    };
    entered = await lead.put('/api/limits', { ...limits, powerUp }, version).then(
      () => true,
      (e: Error) => {
        if (!e.message.includes('412')) throw e;
        return false;
      },
    );
  }
}

/** A controller of its own with an engine behind it, entered as a controller of a shop. */
export async function practiceController(loom: string, machine: object, seed: number, shop = shopUrl()) {
  const file = `${tmpdir()}/wise-loom-machine-${process.pid}-${seed}.json`;
  writeFileSync(file, JSON.stringify(machine));
  const { port, stop } = await standIn(`demo/${loom}`, file, seed, 'controller');
  const name = `Engine ${port}, seed ${seed}`;
  await enterController(name, port, shop);
  return { name, port, stop };
}

interface Check {
  id: string;
  stage: number;
  output: string | null;
  answer: { passed: boolean } | null;
}

/** Checks up to a stage, answered over HTTP by what the engine behind the controller shows. */
export async function answeredUpTo(job: string | number, stage: number, controller: string, shop = shopUrl()) {
  const colleague = await Client.signIn(shop, 'tomas');
  const { stages, lastEvent } = await colleague.get<{ stages: { checks: Check[] }[]; lastEvent: number }>(
    `/api/jobs/${job}/power-up`,
  );
  let seen = lastEvent;
  for (const check of stages.flatMap((s) => s.checks).filter((c) => c.stage < stage)) {
    const answer = {
      key: randomUUID(),
      check: check.id,
      answer: null,
      controller,
      note: null,
      cautionsSeen: true,
      takenAt: new Date().toISOString(),
      seen,
    };
    const said = await colleague.post<{ passed: boolean; said: string; note: string | null; lastEvent: number }>(
      `/api/jobs/${job}/power-up/answers`,
      answer,
    );
    if (!said.passed) throw new Error(`${check.id}: ${said.said} ${said.note ?? ''}`);
    seen = said.lastEvent;
  }
}

interface Loom {
  wires: { id: string; from: string; to: string }[];
}

/** What a meter must find between two places of a demo loom with faults in it, worked out from the file alone. */
export class Truth {
  private readonly ends: Map<string, [string, string]>;
  private readonly bridges: [string, string][] = [];
  private readonly poor = new Set<string>();

  constructor(loom: string, faults: readonly Fault[]) {
    const { wires } = JSON.parse(readFileSync(demoFile(loom), 'utf8')) as Loom;
    this.ends = new Map(wires.map((w) => [w.id, [w.from, w.to]]));
    faults.forEach((f) => this.lay(f));
  }

  /** Whether metal joins two places; `poor` when all of it leads through a joint that adds an ohm or more. */
  between(a: string, b: string): 'apart' | 'joined' | 'poor' {
    return !this.reach(a, new Set()).has(b) ? 'apart' : this.reach(a, this.poor).has(b) ? 'joined' : 'poor';
  }

  private lay(f: Fault) {
    const move = (to: Record<string, string>) => {
      for (const ends of this.ends.values()) ends.forEach((end, i) => (ends[i] = to[end] ?? end));
    };
    const at = (cavity: unknown) => `${String(f.connector)}:${String(cavity)}`;
    if (f.kind === 'open' || f.kind === 'missing') this.ends.delete(String(f.wire));
    else if (f.kind === 'resistive') this.poor.add(String(f.wire));
    else if (f.kind === 'short') this.bridges.push([String(f.a), String(f.b)]);
    else if (f.kind === 'misplaced') move({ [at(f.from)]: at(f.to) });
    else if (f.kind === 'swap') {
      const [one, two] = f.cavities as [string, string];
      move({ [at(one)]: at(two), [at(two)]: at(one) });
    } else throw new Error(`No truth about ${f.kind}.`);
  }

  private reach(from: string, without: ReadonlySet<string>): Set<string> {
    const links = [...this.bridges, ...[...this.ends].filter(([id]) => !without.has(id)).map(([, ends]) => ends)];
    const seen = new Set([from]);
    for (let grown = true; grown;) {
      grown = false;
      for (const [a, b] of links)
        if (seen.has(a) !== seen.has(b)) {
          seen.add(a).add(b);
          grown = true;
        }
    }
    return seen;
  }
}
