import { expect, test } from '@playwright/test';
import { fileURLToPath } from 'node:url';
import { demoFile, newJob, shopUrl, signIn, stepNumber } from '../hands.ts';

const picture = fileURLToPath(new URL('../../../docs/screenshots/jobs.png', import.meta.url));

/** Long: the bare plan is measured before anything else is asked for. */
test('after the bare loom: through devices, a sample, a look with a photo, a fault from what was seen', async ({ page }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Launch Turnstone', demoFile('work-launch.json'));
  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  await page.getByRole('checkbox', { name: /^Look it over/ }).check();
  await page.getByRole('checkbox', { name: /^Pull crimp samples/ }).check();
  await page.getByRole('checkbox', { name: /^Read through devices/ }).check();
  const foresight = page.getByRole('region', { name: 'What this run will show' });
  await expect(foresight).toContainText(/\d+ through devices, \d+ twisted pairs, \d+ crimp samples, \d+ looks/);
  await page.getByRole('button', { name: 'Make the plan and start' }).click();
  await expect(page.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();

  const bench = page.url().split('?')[0] ?? '';
  const steps = Number(/of (\d+)/.exec((await page.getByRole('heading', { name: /^Step/ }).textContent()) ?? '')?.[1]);

  // The last step is a look.
  await page.goto(`${bench}?step=${steps}`);
  await expect(page.getByText('Look', { exact: true })).toBeVisible();
  await page.getByLabel('Photos to add').setInputFiles(picture);
  const small = page.getByRole('button', { name: /injector 3 return far/ }).locator('img');
  await expect(small).toBeVisible();
  expect(await small.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(320);
  await small.click();
  const large = page.getByRole('dialog').locator('img');
  await expect.poll(() => large.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(1280);
  await page.keyboard.press('Escape');
  await page.keyboard.press('x');
  await expect(page.getByTestId('verdict')).toContainText('Fail not as it should be');
  await expect(page.getByTestId('verdict')).toContainText('Saved, Mira');
  await page.keyboard.press('f');
  await page.getByRole('button', { name: 'Log the fault' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.reload();
  await expect(small).toBeVisible();

  // A sample is typed in newtons.
  const pull = await page.evaluate(async (job) => {
    const { run } = (await (await fetch(`/api/jobs/${job}/bench`)).json()) as { run: { steps: { number: number; kind: string }[] } };
    return { pull: run.steps.find((s) => s.kind === 'pull')?.number ?? 0, fitted: run.steps.find((s) => s.kind === 'fitted')?.number ?? 0 };
  }, /jobs\/(\d+)/.exec(bench)?.[1] ?? '');
  await page.goto(`${bench}?step=${pull.pull}`);
  await expect(page.getByText('Crimp sample', { exact: true })).toBeVisible();
  await page.keyboard.type('72');
  await expect(page.getByText('= 72 N')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('verdict')).toContainText(/Pass 72 N/);

  // Through a device, with the stand-in's own devices plugged in.
  await page.goto(`${bench}?step=${pull.fitted}`);
  await expect(page.getByText(/^Set up: .* plugged in, everything without power/)).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByTestId('verdict')).toContainText('Saved, Mira');
  await expect(page.getByTestId('verdict')).toContainText(/Pass|Can’t tell/);
  expect(await stepNumber(page)).toBe(pull.fitted);

  await page.goto(`${shopUrl()}/limits`);
  await expect(page.getByRole('heading', { name: 'What a crimp sample must hold' })).toBeVisible();
});
