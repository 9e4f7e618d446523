import { expect, test, type Page } from '@playwright/test';
import { newJob, signIn } from '../hands.ts';

const wires = 3000;

/** A loom of 3,000 wires between plugs of 100 cavities. */
function large() {
  const cavities = Array.from({ length: 100 }, (_, i) => String(i + 1));
  const plugs = Array.from({ length: 60 }, (_, i) => ({ ref: `P${i + 1}`, family: 'hundred', branch: 'trunk', atMm: i * 50 }));
  return {
    format: 'wise-loom/loom',
    version: 1,
    loom: { name: 'Large', revision: 'A' },
    families: [{ id: 'hundred', rows: [0, 25, 50, 75].map((n) => cavities.slice(n, n + 25)) }],
    branches: [{ id: 'trunk', parent: null, lengthMm: 3000 }],
    connectors: plugs,
    wires: Array.from({ length: wires }, (_, i) => ({
      id: `W${i + 1}`,
      from: `P${Math.floor(i / 100) + 1}:${(i % 100) + 1}`,
      to: `P${Math.floor(i / 100) + 31}:${(i % 100) + 1}`,
      colour: 'BU/WH',
      mm2: 0.5,
      lengthMm: 1000 + i,
      circuit: `Circuit ${i + 1}`,
    })),
  };
}

const report = (what: string, must: string, all: number[]) => {
  const sorted = [...all].sort((a, b) => a - b);
  const at = (part: number) => (sorted[Math.floor(part * (sorted.length - 1))] ?? NaN).toFixed(0);
  console.log(`${what.padEnd(62)} ${must.padStart(12)} ${`${at(0.5)} ms`.padStart(12)}   (95 %: ${at(0.95)} ms, worst ${at(1)} ms)`);
};

/** From each key until the frame that shows it, in the page's own clock. */
async function watchKeys(page: Page) {
  await page.evaluate(() => {
    const keys: number[] = [];
    Object.assign(window, { keys });
    window.addEventListener('keydown', () => {
      const start = performance.now();
      requestAnimationFrame(() => setTimeout(() => keys.push(performance.now() - start), 0));
    }, true);
  });
  return () => page.evaluate(() => (window as unknown as { keys: number[] }).keys.splice(0));
}

/** From the moment a draft goes out until what the server found in it is drawn. Laid over the page's fetch before the page takes hold of it. */
async function watchChecks(page: Page) {
  await page.addInitScript(() => {
    const checks: number[] = [];
    Object.assign(window, { checks });
    const send = window.fetch;
    window.fetch = async (...what) => {
      const start = performance.now();
      const answer = await send(...what);
      if (what[0] instanceof Request && ['PUT', 'PATCH'].includes(what[0].method)) {
        // Read by the page, then the frame that shows what it said, then the task after that frame.
        const drawn = <T>(said: T) => {
          setTimeout(() => requestAnimationFrame(() => setTimeout(() => {
            checks.push(performance.now() - start);
            window.dispatchEvent(new Event('checked'));
          }, 0)), 0);
          return said;
        };
        // An answer whose length is known is read in one go, another as text.
        const [text, json] = [answer.text.bind(answer), answer.json.bind(answer)];
        answer.text = async () => drawn(await text());
        answer.json = async () => drawn((await json()) as unknown);
      }
      return answer;
    };
  });
}

test('3,000 wires in the grid', async ({ page }) => {
  await watchChecks(page);
  await signIn(page, 'mira');
  await newJob(page, 'Large loom', { name: 'large.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(large())) });
  await page.goto(page.url().replace(/loom$/, 'draft'));
  await page.getByRole('button', { name: 'Begin a draft' }).click();
  const grid = page.getByRole('grid', { name: 'Wires' });
  await expect(grid).toHaveAttribute('aria-rowcount', String(wires + 2));
  await grid.focus();
  const taken = await watchKeys(page);

  await page.keyboard.press('Control+Home');
  for (let i = 0; i < 7; i++) await page.keyboard.press('ArrowRight');
  await taken();
  await page.keyboard.type('Sensor supply five volts, upper mast and tower', { delay: 30 });
  report('3,000 wires: a typed key to its frame', '< 50 ms', await taken());
  await page.keyboard.press('Enter');
  await taken();
  // As a key that is held down repeats: the next when the last has been drawn.
  for (let i = 0; i < 60; i++) {
    await page.keyboard.press('ArrowDown');
    await page.evaluate(() => new Promise((drawn) => requestAnimationFrame(() => setTimeout(drawn, 0))));
  }
  report('3,000 wires: an arrow key to its frame', '< 50 ms', await taken());

  const frames = (perFrame: number) => grid.evaluate(
    (box, by) =>
      new Promise<number[]>((done) => {
        const gaps: number[] = [];
        let last = performance.now();
        let left = 180;
        const step = (now: number) => {
          gaps.push(now - last);
          last = now;
          box.scrollTop += by;
          if (--left > 0) requestAnimationFrame(step);
          else done(gaps.slice(1));
        };
        requestAnimationFrame(step);
      }),
    perFrame,
  );
  report('from frame to frame of this browser, nothing moving', '', await frames(0));
  report('3,000 wires: from frame to frame while scrolling', 'the same', await frames(220));

  await page.keyboard.press('Control+Home');
  await page.keyboard.press('ArrowRight');
  const invalid = grid.locator('[aria-invalid]');
  const saved = page.getByTestId('keeping');
  /** Presses keys and waits without asking the page anything meanwhile: questions would take the time that is measured. */
  const checkedAfter = async (press: () => Promise<void>) => {
    const checked = page.evaluate(() => new Promise((done) => window.addEventListener('checked', done, { once: true })));
    await press();
    await checked;
  };
  const warmUp = 25;
  await page.evaluate(() => performance.setResourceTimingBufferSize(5000));
  for (let i = 0; i < warmUp + 25; i++) {
    await checkedAfter(() => page.keyboard.type('Q9:1'));
    await expect(invalid).toHaveCount(1);
    await expect(saved).toHaveText('Saved');
    await checkedAfter(() => page.keyboard.press('Escape'));
    await expect(invalid).toHaveCount(0);
    await expect(saved).toHaveText('Saved');
  }
  const answers = await page.evaluate(() =>
    performance.getEntriesByType('resource').flatMap((r) => (/\/api\/drafts\/\d+$/.test(r.name) && r instanceof PerformanceResourceTiming ? [r.duration] : [])));
  report('3,000 wires: what was typed sent, checked and kept', '< 50 ms', answers.slice(-2 * 25));
  report('3,000 wires: the same, and its marks drawn', '', (await page.evaluate(() => (window as unknown as { checks: number[] }).checks)).slice(-2 * 25));
});
