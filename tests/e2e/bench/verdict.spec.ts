import { expect, test } from '@playwright/test';
import { demoFile, newJob, signIn, startRun } from '../hands.ts';

const touches = 60;

/** From the keys of a typed reading to its verdict painted, and from Enter to the next card painted, in the page's own clock. */
test('a verdict and the next card', async ({ page }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Bench for speed', demoFile('frost-fan.json'));
  await startRun(page);
  await page.evaluate(() => {
    const marks: number[] = [];
    Object.assign(window, { marks });
    const card = document.querySelector('main');
    const words = () => ['[data-testid=verdict] p', 'h2'].map((part) => card?.querySelector(part)?.textContent).join();
    // The change of verdict or card, then the frame that shows it, then the task after that frame.
    const painted = () =>
      new Promise<number>((done) => {
        const before = words();
        const watch = new MutationObserver(() => {
          if (words() === before) return;
          watch.disconnect();
          requestAnimationFrame(() => setTimeout(() => done(performance.now()), 0));
        });
        if (card) watch.observe(card, { subtree: true, childList: true, characterData: true });
      });
    window.addEventListener('keydown', (e) => {
      if (e.key === 'Enter') {
        const start = performance.now();
        void painted().then((end) => marks.push(end - start));
      }
    }, true);
  });
  const verdict = page.getByTestId('verdict');
  for (let i = 0; i < touches; i++) {
    await page.keyboard.type('85m');
    await page.keyboard.press('Enter');
    await expect(verdict).toContainText('Saved');
    await page.keyboard.press('Enter');
    await expect(verdict).toContainText('Not tested');
  }

  const marks = await page.evaluate(() => (window as unknown as { marks: number[] }).marks);
  const report = (what: string, all: number[]) => {
    const sorted = [...all].sort((a, b) => a - b);
    const at = (part: number) => (sorted[Math.floor(part * (sorted.length - 1))] ?? NaN).toFixed(0);
    console.log(`${what.padEnd(62)} ${'< 50 ms'.padStart(12)} ${`${at(0.5)} ms`.padStart(12)}   (95 %: ${at(0.95)} ms)`);
  };
  report('typed reading to verdict painted, median', marks.filter((_, i) => i % 2 === 0));
  report('Enter to next card painted, median', marks.filter((_, i) => i % 2 === 1));
});
