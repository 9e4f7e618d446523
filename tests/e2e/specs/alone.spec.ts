import { expect, test } from '@playwright/test';
import { demoFile, newJob, signIn, startRun, stepNumber } from '../hands.ts';
import { ShopServer } from '../server.ts';

test.use({ serviceWorkers: 'allow' });

/** Long: a shop of its own is killed twice, and the page waits for its service worker. */
test('a page that is loaded anew without a server goes on measuring, says since when it is alone, and forgets nothing', { tag: '@deep' }, async ({ page }) => {
  const shop = await ShopServer.open('alone', { WISELOOM_CHROMIUM: '/nonexistent' });
  try {
    await signIn(page, 'mira', shop.url);
    await page.evaluate(() => navigator.serviceWorker.ready);
    await newJob(page, 'Tower fan 3', demoFile('frost-fan.json'), shop.url);
    await startRun(page);
    // The worker looks after pages that were opened since it is there; what this one needs is kept from here on.
    await page.reload();
    await expect(page.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();
    const verdict = page.getByTestId('verdict');
    const type = async (text: string, words: string) => {
      const here = await stepNumber(page);
      await page.keyboard.type(text);
      await page.keyboard.press('Enter');
      await expect(verdict).toContainText(words);
      await page.keyboard.press('Enter');
      await expect(page.getByRole('heading', { name: `Step ${here} of` })).toBeHidden();
      return here;
    };
    for (let i = 0; i < 3; i++) await type('30m', 'Saved, Mira Solstad');
    const bar = page.getByRole('progressbar', { name: 'Steps done' });
    await expect(bar).toHaveAttribute('aria-valuenow', '3');
    await expect
      .poll(() =>
        page.evaluate(async () => {
          const known = await (await caches.open('wise-loom-kept')).match(location.pathname.replace('/jobs', '/api/jobs'));
          return ((await known?.json()) as { run?: { progress: { done: number } } } | undefined)?.run?.progress.done;
        }),
      )
      .toBe(3);

    await shop.kill();
    await page.reload();
    await expect(page.getByTestId('alone')).toContainText(/^Alone since \d/);
    await expect(bar).toHaveAttribute('aria-valuenow', '3');
    for (let i = 0; i < 2; i++) await type('31m', 'Kept here, not yet at the server');
    await page.reload();
    await expect(page.getByText('2 readings wait here.')).toBeVisible();
    await expect(bar).toHaveAttribute('aria-valuenow', '3');

    await shop.start();
    await expect(page.getByTestId('alone')).toHaveCount(0);
    await expect(page.getByText('2 readings wait here.')).toBeHidden();
    await expect(bar).toHaveAttribute('aria-valuenow', '5');
    await page.reload();
    await expect(bar).toHaveAttribute('aria-valuenow', '5');

    // What was kept is one person's: nothing of it is left when she signs out.
    await page.getByRole('button', { name: 'Sign out' }).click();
    await expect(page.getByRole('heading', { name: 'Sign in', exact: true })).toBeVisible();
    await expect.poll(() => page.evaluate(async () => {
      const kept = await (await caches.open('wise-loom-kept')).keys();
      return kept.map((k) => new URL(k.url).pathname);
    })).toEqual(['/api/session']);
    await shop.kill();
    await page.reload();
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await expect(page.getByText('Tower fan 3')).toHaveCount(0);
  } finally {
    await shop.close();
  }
});
