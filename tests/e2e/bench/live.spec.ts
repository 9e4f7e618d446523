import { expect, test } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { connect } from 'node:net';
import { Client } from '../client.ts';
import { demoFile, newJob, shopUrl, signIn, startRun } from '../hands.ts';
import { answeredUpTo, practiceController } from '../practice.ts';

const turns = 40;

/** From the turn of a key at the controller, twenty live samples a second, to the frame of the page that shows it; both on this machine's clock. */
test('live values', async ({ page }) => {
  const engine = await practiceController('frost-fan.json', {}, 31);
  await signIn(page, 'mira');
  await newJob(page, 'Live bench', demoFile('frost-fan.json'));
  await startRun(page);
  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';
  const lead = await Client.signIn(shopUrl(), 'ada');
  await lead.post(`/api/jobs/${job}/power-up`, { key: randomUUID(), school: 'bench', fitted: {} });
  await answeredUpTo(job, 5, engine.name);
  await page.goto(`${shopUrl()}/jobs/${job}/power-up`);
  await page.getByLabel('Controller that is asked').selectOption(engine.name);
  const panel = page.getByRole('region', { name: 'Live' });
  await page.evaluate(() => {
    const shown: number[] = [];
    Object.assign(window, { shown });
    const words = () => document.querySelector('[aria-labelledby=live] header span')?.textContent;
    let before = words();
    new MutationObserver(() => {
      if (words() === before) return;
      before = words();
      requestAnimationFrame(() => setTimeout(() => shown.push(Date.now()), 0));
    }).observe(document.body, { subtree: true, childList: true, characterData: true });
  });
  const line = connect(engine.port, '127.0.0.1');
  const turn = (key: string) => line.write(`${JSON.stringify({ id: 1, do: 'bench', key, set: [], without: [], levers: 'rest' })}\n`);
  const took: number[] = [];
  for (let i = 0; i < turns; i++) {
    const [key, says] = i % 2 ? ['on', 'channels of'] : ['off', 'asleep'];
    const start = Date.now();
    turn(key);
    await expect(panel.getByText(says)).toBeVisible();
    await expect.poll(() => page.evaluate(() => (window as unknown as { shown: number[] }).shown.length)).toBeGreaterThan(0);
    const shown = await page.evaluate(() => (window as unknown as { shown: number[] }).shown.splice(0));
    if (i > 0) took.push((shown[0] ?? NaN) - start);
  }

  line.destroy();
  engine.stop();
  took.sort((a, b) => a - b);
  const at = (part: number) => (took[Math.floor(part * (took.length - 1))] ?? NaN).toFixed(0);
  console.log(`${'a change at the controller to the frame that shows it'.padEnd(62)} ${'< 100 ms'.padStart(12)} ${`${at(0.5)} ms`.padStart(12)}   (95 %: ${at(0.95)} ms, worst ${at(1)} ms)`);
});
