import { expect, test } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { demoFile } from '../hands.ts';
import { OwnDatabase } from '../ownDatabase.ts';
import { copyExample } from '../psql.ts';
import { ShopServer } from '../server.ts';
import { Client } from '../client.ts';
import { readFileSync } from 'node:fs';

const deep = process.env.WISELOOM_DEEP === '1';
const wanted = deep ? 10_000 : 300;
const kills = deep ? 10 : 2;
const batch = 10;

/** Application and database are killed in turn, without warning, while four people measure through two processes. */
test('what was acknowledged is there, once, under its own name, whatever was killed meanwhile', async () => {
  test.setTimeout(600_000);
  const database = await OwnDatabase.make();
  copyExample(database.connection('shop'));
  const shops = [await ShopServer.beside(database.connection('shop')), await ShopServer.beside(database.connection('shop'))];
  try {
    const lead = await Client.signIn(shops[0]!.url, 'ada');
    const { id: job } = await lead.post<{ id: number }>('/api/jobs', { customer: 'Hollow Lane Orchards', machine: 'Tower fan', promised: null, assignedId: null, waitingFor: null });
    await lead.post(`/api/jobs/${job}/loom?after=0`, JSON.parse(readFileSync(demoFile('frost-fan.json'), 'utf8')));
    const run = await lead.post<{ id: number; steps: number }>(`/api/jobs/${job}/runs`, { meterId: 1, isolation: 'neighbours', carryOver: false });

    const acknowledged = new Map<string, string>();
    const sent = new Map<string, string>();
    let over = false;
    // Everything stands, or will when what was killed has been started again.
    let standing: Promise<unknown> = Promise.resolve();
    const write = async (who: 'mira' | 'tomas' | 'ada', n: number) => {
      for (let turn = n; !over; turn++) {
        const readings = Array.from({ length: batch }, () => ({
          key: randomUUID(), step: 1 + Math.floor(Math.random() * run.steps), ohms: 0.05, volts: null, overRange: false, fromMeter: true, takenAt: new Date().toISOString(), seen: 0,
        }));
        // The same keys again, through one process or the other, until the server has said that it has them.
        for (let tries = 0; ; tries++) {
          const shop = shops[(turn + tries) % shops.length]!;
          try {
            const client = await Client.signIn(shop.url, who);
            readings.forEach((r) => sent.set(r.key, client.person));
            const answer = await client.post<{ stored: { key: string }[]; refused: { message: string }[] }>(`/api/runs/${run.id}/readings`, { takenBy: client.person, readings });
            expect(answer.refused).toEqual([]);
            answer.stored.forEach((s) => acknowledged.set(s.key, client.person));
            break;
          } catch (error) {
            // A database that is away is told in words (503); nothing breaks.
            if (error instanceof Error && (error.name === 'AssertionError' || error.message.includes('answered 500'))) throw error;
            Client.forget(shop.url);
            // Once at each process at once; whoever had no luck there tries again when somebody has mended it.
            if (tries % shops.length === shops.length - 1) await standing;
          }
        }
      }
    };
    const writers = [write('mira', 0), write('tomas', 1), write('ada', 2), write('mira', 3)];

    for (let n = 1; n <= kills; n++) {
      await expect.poll(() => acknowledged.size, { timeout: 120_000 }).toBeGreaterThanOrEqual((wanted / (kills + 1)) * n);
      const shop = shops[n % 4 === 1 ? 0 : 1]!;
      const hit = n % 2 === 0 ? database : shop;
      await hit.kill();
      standing = hit.start();
      await standing;
    }
    await expect.poll(() => acknowledged.size, { timeout: 120_000 }).toBeGreaterThanOrEqual(wanted);
    over = true;
    await Promise.all(writers);

    const rows = database.query('shop', `select key || ' ' || made_by || ' ' || number from run_events where run_id = ${run.id} order by number`).map((r) => r.split(' '));
    const stored = new Map(rows.map(([key = '', by = '']) => [key, by]));
    expect(stored.size, 'none double').toBe(rows.length);
    expect([...acknowledged].filter(([key, by]) => stored.get(key) !== by), 'none missing, none under another name').toEqual([]);
    expect([...stored].filter(([key, by]) => sent.get(key) !== by), 'none that nobody sent').toEqual([]);
    expect(rows.map((r) => Number(r[2])), 'numbered without gaps').toEqual(rows.map((_, i) => i + 1));
    expect(database.query('shop', `select last_event from runs where id = ${run.id}`)).toEqual([String(rows.length)]);
    // A server that was killed again and again tells the same as one that reads everything anew.
    const seen = await Promise.all(shops.map(async (s) => (await Client.signIn(s.url, 'ada')).get<{ run: { lastEvent: number; progress: unknown } }>(`/api/jobs/${job}/bench`)));
    expect(seen[0]?.run.lastEvent).toBe(rows.length);
    expect(seen[0]?.run.progress).toEqual(seen[1]?.run.progress);
  } finally {
    await Promise.all(shops.map((s) => s.close()));
    await database.stop();
  }
});
