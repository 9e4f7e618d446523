import { expect, test } from '@playwright/test';
import { shopUrl, signIn, startRun } from '../hands.ts';

test('look', async ({ page }) => {
  await signIn(page, 'ada');
  await page.goto(shopUrl() + '/jobs/4');
  await startRun(page);
  await page.screenshot({ path: '/tmp/shot-bench.png' });
  await page.keyboard.press('b');
  await page.getByRole('button', { name: 'By itself, to the end' }).click();
  await expect(page.getByTestId('ended')).toBeVisible({ timeout: 120_000 });
  await page.screenshot({ path: '/tmp/shot-ended.png' });
  await page.getByRole('link', { name: 'Matrix', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Patterns' })).toBeVisible();
  await page.waitForTimeout(500);
  await page.screenshot({ path: '/tmp/shot-matrix.png' });
  await page.keyboard.press('-');
  await page.keyboard.press('-');
  await page.waitForTimeout(300);
  await page.emulateMedia({ colorScheme: 'dark' });
  await page.waitForTimeout(300);
  await page.screenshot({ path: '/tmp/shot-matrix2.png' });
  await page.setViewportSize({ width: 390, height: 844 });
  await page.waitForTimeout(300);
  await page.screenshot({ path: '/tmp/shot-matrix390.png' });
  await page.goto(shopUrl() + '/jobs/1/record');
  await expect(page.getByText('that counted')).toBeVisible();
  await page.screenshot({ path: '/tmp/shot-record390.png' });
});
