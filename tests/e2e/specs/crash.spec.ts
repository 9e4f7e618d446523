import { expect, test } from '@playwright/test';
import { demoFile, newJob, signIn, startRun, stepNumber } from '../hands.ts';
import { ShopServer } from '../server.ts';

/** Long: the server starts twice in the middle of a run. For each change, kill.spec holds the same of the server and alone.spec of the page. */
test('a server killed in the middle of a run loses nothing that was shown as saved, and gets the rest by itself', { tag: '@deep' }, async ({ page }) => {
  const shop = await ShopServer.open('crash', { WISELOOM_CHROMIUM: '/nonexistent' });
  try {
    await signIn(page, 'mira', shop.url);
    await newJob(page, 'Tower fan 3', demoFile('frost-fan.json'), shop.url);
    await startRun(page);
    const verdict = page.getByTestId('verdict');
    const type = async (text: string) => {
      const here = await stepNumber(page);
      await page.keyboard.type(text);
      await page.keyboard.press('Enter');
      await expect(verdict).toContainText(/Pass|Fail|Can’t tell/);
      return here;
    };
    const goOn = async (from: number) => {
      await page.keyboard.press('Enter');
      await expect(page.getByRole('heading', { name: `Step ${from} of` })).toBeHidden();
    };

    for (let i = 0; i < 5; i++) {
      const here = await type('85m');
      await expect(verdict).toContainText('Saved, Mira Solstad');
      await goOn(here);
    }

    await shop.kill();
    for (let i = 0; i < 4; i++) {
      const here = await type('86m');
      await expect(verdict).toContainText('Kept here, not yet at the server');
      await goOn(here);
    }

    await expect(page.getByText('4 readings wait here.')).toBeVisible();
    await shop.start();
    await expect(page.getByText('4 readings wait here.')).toBeHidden({ timeout: 30_000 });

    await page.reload();
    const bar = page.getByRole('progressbar', { name: 'Steps done' });
    await expect(bar).toHaveAttribute('aria-valuenow', '9');

    // Kept over a reload too: taken while the server is away, sent by the page that is loaded after.
    await shop.kill();
    await type('87m');
    await expect(verdict).toContainText('Kept here');
    const address = page.url();
    await page.goto('about:blank');
    await shop.start();
    await page.goto(address);
    await expect(bar).toHaveAttribute('aria-valuenow', '10');

    await page.goto(address.replace(/bench.*/, 'handover'));
    await expect(page.getByText('No Chromium is installed at the server')).toBeVisible();
  } finally {
    await shop.close();
  }
});
