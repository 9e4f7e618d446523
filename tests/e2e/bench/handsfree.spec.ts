import { expect, test, type Page } from '@playwright/test';
import { Client } from '../client.ts';
import { demoFile, newJob, shopUrl, signIn, startRunWith } from '../hands.ts';
import { practiceMeter, Truth, type Fault } from '../practice.ts';

/** One seed a row: hidden faults of every kind that ohms can see. */
const hidden: Fault[][] = [
  [{ kind: 'swap', connector: 'ECU-A', cavities: ['25', '26'] }],
  [{ kind: 'open', wire: 'W12', end: null }],
  [{ kind: 'resistive', wire: 'W42', end: 'from', ohm: 3 }],
  [{ kind: 'short', a: 'ECU-A:21', b: 'ECU-A:22', ohm: 0.4 }],
  [{ kind: 'missing', wire: 'W77' }],
  [],
  [{ kind: 'swap', connector: 'INJ3', cavities: ['1', '2'] }, { kind: 'open', wire: 'W30', end: 'to' }],
  [{ kind: 'short', a: 'ECU-B:20', b: 'ECU-B:21', ohm: 0.2 }, { kind: 'resistive', wire: 'W5', end: 'to', ohm: 5 }],
  [{ kind: 'swap', connector: 'ECU-B', cavities: ['27', '28'] }],
  [{ kind: 'open', wire: 'W64', end: 'from' }, { kind: 'missing', wire: 'W15' }],
];

interface Bench {
  run: { id: number; steps: { number: number; black: string; red: string | null; joined: boolean; standing: { state: string } }[] };
}

async function begin(page: Page, machine: string, meter: string) {
  await newJob(page, machine, demoFile('frost-fan.json'));
  await startRunWith(page, meter);
}

/** Counts verdicts that are not what the file and the faults say. */
async function wrong(page: Page, truth: Truth): Promise<{ steps: number; wrong: number; failing: number }> {
  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';
  const { run } = await (await Client.signIn(shopUrl(), 'mira')).get<Bench>(`/api/jobs/${job}/bench`);
  const pairs = run.steps.filter((s) => s.red !== null);
  const bad = pairs.filter((s) => {
    const metal = truth.between(s.black, s.red ?? '');
    const must = s.joined ? (metal === 'joined' ? 'pass' : 'fail') : metal === 'apart' ? 'pass' : 'fail';
    // Where the meter cannot tell a short thick wire's milliohms, that is no wrong verdict.
    return s.standing.state !== must && !(s.standing.state === 'cant-tell' && must === 'pass');
  });
  return { steps: pairs.length, wrong: bad.length, failing: pairs.filter((s) => s.standing.state === 'fail').length };
}

const say = (what: string, must: string, got: string) => console.log(`${what.padEnd(62)} ${must.padStart(12)} ${got.padStart(12)}`);

/** From a reading's arrival to the next card painted, in the page's own clock. */
async function watchCards(page: Page) {
  await page.evaluate(() => {
    const marks: number[] = [];
    Object.assign(window, { marks });
    let arrived = NaN;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) if (entry.name.endsWith('/measure')) arrived = (entry as PerformanceResourceTiming).responseEnd;
    }).observe({ type: 'resource' });
    const heading = () => [...document.querySelectorAll('main h2')].find((h) => h.textContent?.startsWith('Step'))?.textContent;
    let before = heading();
    new MutationObserver(() => {
      const now = heading();
      if (now === before) return;
      before = now;
      requestAnimationFrame(() =>
        setTimeout(() => {
          if (!Number.isNaN(arrived)) marks.push(performance.now() - arrived);
        }, 0),
      );
    }).observe(document.body, { subtree: true, childList: true, characterData: true });
  });
}

/** Waits in the page itself: looking in from outside again and again would hold up what is measured. */
const untilEnded = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<void>((resolve) => {
        const look = () => {
          if (!document.querySelector('[data-testid=ended]')) return;
          watch.disconnect();
          resolve();
        };
        const watch = new MutationObserver(look);
        watch.observe(document.body, { subtree: true, childList: true });
        look();
      }),
  );

test('the whole frost fan by fixture and hands-free, ten seeds of hidden faults', async ({ page }) => {
  test.setTimeout(3_600_000);
  await signIn(page, 'mira');
  const lead = await Client.signIn(shopUrl(), 'ada');
  const { limits, version } = await lead.get<{ limits: Record<string, unknown>; version: number }>('/api/limits');
  const answer = await lead.put('/api/limits', { ...limits, steadySeconds: 0.05 }, version);
  expect(answer).toBeTruthy();
  for (const [seed, faults] of hidden.slice(0, Number(process.env.SEEDS ?? hidden.length)).entries()) {
    const meter = await practiceMeter('frost-fan.json', faults, seed + 1);
    const truth = new Truth('frost-fan.json', faults);
    for (const [way, button] of [
      ['fixture', 'By itself, to the end'],
      ['hands-free', 'Hands-free'],
    ] as const) {
      await begin(page, `Tower fan, seed ${seed + 1}, ${way}`, meter.name);
      if (way === 'fixture') await watchCards(page);
      const begun = Date.now();
      const ended = page.getByTestId('ended');
      for (;;) {
        await page.keyboard.press('b');
        await page.getByRole('button', { name: button, exact: true }).click();
        await untilEnded(page);
        if ((await ended.textContent()) === 'Nothing is left to measure.') break;
        // Hands-free stops at a step that fails; one goes on from there.
        await page.keyboard.press('Enter');
      }
      const seconds = (Date.now() - begun) / 1000;
      await expect(page.getByText(/done, 0 s left/)).toBeVisible();
      const found = await wrong(page, truth);
      say(`seed ${seed + 1}, ${way}: ${faults.map((f) => f.kind).join(' and ') || 'clean'}, verdicts wrong of ${found.steps}`, '0', `${found.wrong}, ${found.failing} fail`);
      if (way === 'fixture') {
        say(`seed ${seed + 1}, the whole loom by fixture`, '< 20 s', `${seconds.toFixed(1)} s`);
        const marks = (await page.evaluate(() => (window as unknown as { marks: number[] }).marks)).sort((a, b) => a - b);
        say(`  reading to next card painted, median of ${marks.length}`, '< 50 ms', `${(marks[Math.floor(0.5 * (marks.length - 1))] ?? NaN).toFixed(0)} ms`);
        say(`  reading to next card painted, 95 % of ${marks.length}`, '< 50 ms', `${(marks[Math.floor(0.95 * (marks.length - 1))] ?? NaN).toFixed(0)} ms`);
      }
    }
    meter.stop();
  }
});
