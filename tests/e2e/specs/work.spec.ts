import { expect, test } from '@playwright/test';
import { shopUrl, signIn } from '../hands.ts';

test('who waits for heavy work sees what it is and when its turn comes', async ({ page }) => {
  await signIn(page, 'mira');
  // A comparison that takes its time, and the server’s word on it.
  let release: () => void = () => undefined;
  const held = new Promise<void>((go) => (release = go));
  await page.route('**/api/compare?**', async (route) => {
    await held;
    await route.continue();
  });
  const words = ['2 before it in the queue', 'comparing functions and plugs, at work for 3 s'];
  await page.route('**/api/work', (route) => route.fulfill({ json: [{ what: 'Comparing', before: words.length, text: words.length > 1 ? words.shift() : words[0] }] }));
  await page.goto(`${shopUrl()}/compare?left=sheet-3&right=sheet-1`);

  await expect(page.getByTestId('at-work')).toHaveText('Comparing: 2 before it in the queue');
  await expect(page.getByTestId('at-work')).toHaveText('Comparing: comparing functions and plugs, at work for 3 s');
  release();
  await expect(page.getByRole('region', { name: 'Compared functions' })).toBeVisible();
  await expect(page.getByTestId('at-work')).toHaveCount(0);
});
