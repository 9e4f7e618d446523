import { expect, test } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { connect } from 'node:net';
import { Client } from '../client.ts';
import { demoFile } from '../hands.ts';
import { answeredUpTo, practiceController } from '../practice.ts';
import { ShopServer } from '../server.ts';

/** Whether the stand-in drives anything: asked without driving, so that the question disturbs nothing. */
async function driving(port: number): Promise<boolean> {
  const line = connect(port, '127.0.0.1');
  line.write('{"id": 1, "do": "practice"}\n');
  const [said] = (await once(line, 'data')) as [Buffer];
  line.destroy();
  return (JSON.parse(said.toString()) as { ok: { driving: boolean } }).ok.driving;
}

/** Long: a shop of its own is killed and started again. */
test('an output that is driven when the server is killed is off at once, and drives again', { tag: '@deep' }, async () => {
  test.setTimeout(120_000);
  const shop = await ShopServer.open('drive');
  const engine = await practiceController('frost-fan.json', {}, 21, shop.url);
  try {
    const lead = await Client.signIn(shop.url, 'ada');
    const { id: job } = await lead.post<{ id: number }>('/api/jobs', {
      customer: 'Hollow Lane Orchards',
      machine: 'Tower fan 14, V8',
      promised: null,
      assignedId: null,
      waitingFor: null,
    });
    await lead.post(`/api/jobs/${job}/loom?after=0`, JSON.parse(readFileSync(demoFile('frost-fan.json'), 'utf8')));
    await lead.post(`/api/jobs/${job}/runs`, { meterId: 1, isolation: 'neighbours', carryOver: false });
    await lead.post(`/api/jobs/${job}/power-up`, { key: randomUUID(), school: 'bench', fitted: {} });
    await answeredUpTo(job, 6, engine.name, shop.url);

    // Eighteen seconds of pulses, if nobody cut them short.
    const long = { controller: engine.name, check: 'drive Injector 3', cautionsSeen: true, times: 20, onMs: 500, offMs: 400 };
    const ended = lead.post(`/api/jobs/${job}/power-up/drive`, long).then(
      () => 'ended by itself',
      () => 'cut',
    );
    await expect.poll(() => driving(engine.port)).toBe(true);
    await shop.kill();
    expect(await ended).toBe('cut');
    await expect.poll(() => driving(engine.port)).toBe(false);

    // What was answered before is there; nothing claims that this output was seen to move.
    await shop.start();
    Client.forget(shop.url);
    const again = await Client.signIn(shop.url, 'ada');
    const { stages } = await again.get<{ stages: { number: number; passed: number; checks: { id: string; answer: unknown }[] }[] }>(
      `/api/jobs/${job}/power-up`,
    );
    expect(stages.find((s) => s.number === 6)?.checks.find((c) => c.id === 'drive Injector 3')?.answer).toBeNull();
    await again.post(`/api/jobs/${job}/power-up/drive`, { ...long, times: 1, onMs: 50 });
  } finally {
    engine.stop();
    await shop.close();
  }
});
