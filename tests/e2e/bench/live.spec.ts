import { expect, test } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { createServer, type AddressInfo } from 'node:net';
import { Client } from '../client.ts';
import { demoFile, newJob, shopUrl, signIn, startRun } from '../hands.ts';
import { answeredUpTo, enterController, practiceController } from '../practice.ts';

const channels = 60;
const perSecond = 20;
const samples = 200;

/** A controller of many channels; the first counts the milliseconds of this machine's clock. */
async function clockController() {
  const server = createServer((line) => {
    line.on('data', (asked: Buffer) => {
      const { id, do: what } = JSON.parse(asked.toString()) as { id: number; do: string };
      if (what !== 'watch') return line.write(`${JSON.stringify({ id, error: { code: 'unknown', message: 'Only watched.' } })}\n`);
      const values = (n: number) => ({ channel: `Channel ${n}`, pin: `ECU-A:${n}`, volts: n / 20, value: Date.now() % 10_000_000, unit: 'ms' });
      const ticks = setInterval(() => {
        const all = Array.from({ length: channels }, (_, n) => values(n + 1));
        line.write(`${JSON.stringify({ id, ok: { values: all } })}\n`);
      }, 1000 / perSecond);
      line.on('close', () => clearInterval(ticks));
    });
    line.on('error', () => line.destroy());
  }).listen(0, '127.0.0.1');
  await once(server, 'listening');
  return { port: (server.address() as AddressInfo).port, stop: () => server.close() };
}

/** From the moment a value is sent by the controller to the frame of the page that shows it. */
test('live values', async ({ page }) => {
  const engine = await practiceController('frost-fan.json', {}, 31);
  const clock = await clockController();
  await enterController('Clock', clock.port);
  await signIn(page, 'mira');
  await newJob(page, 'Live bench', demoFile('frost-fan.json'));
  await startRun(page);
  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';
  const lead = await Client.signIn(shopUrl(), 'ada');
  await lead.post(`/api/jobs/${job}/power-up`, { key: randomUUID(), school: 'bench', fitted: {} });
  await answeredUpTo(job, 5, engine.name);
  engine.stop();
  await page.goto(`${shopUrl()}/jobs/${job}/power-up`);
  await page.getByLabel('Controller that is asked').selectOption('Clock');
  await expect(page.getByText(`${channels} channels of Clock`)).toBeVisible();
  const took = await page.evaluate(
    (count) =>
      new Promise<number[]>((done) => {
        const took: number[] = [];
        const first = document.querySelector('[aria-labelledby=live] dd');
        const words = () => first?.textContent ?? '';
        let before = words();
        const watch = new MutationObserver(() => {
          const now = words();
          if (now === before) return;
          before = now;
          requestAnimationFrame(() =>
            setTimeout(() => {
              took.push((Date.now() % 10_000_000) - parseFloat(now));
              if (took.length < count) return;
              watch.disconnect();
              done(took);
            }, 0),
          );
        });
        if (first?.parentElement) watch.observe(first.parentElement, { subtree: true, childList: true, characterData: true });
      }),
    samples,
  );
  clock.stop();
  took.sort((a, b) => a - b);
  const at = (part: number) => (took[Math.floor(part * (took.length - 1))] ?? NaN).toFixed(0);
  console.log(`${`${channels} live values sent to painted, ${perSecond} a second, median`.padEnd(62)} ${'< 100 ms'.padStart(12)} ${`${at(0.5)} ms`.padStart(12)}   (95 %: ${at(0.95)} ms, worst ${at(1)} ms)`);
});
