import { expect, test } from '@playwright/test';
import { demoFile, newJob, shopUrl, signIn } from '../hands.ts';

/** Long: papers are worked out in a second language. */
test('a packing list is kept with the loom, and the customer’s papers speak the language of the job', async ({ page }) => {
  test.setTimeout(120_000);
  await signIn(page, 'ada');
  await newJob(page, 'Launch Fulmar, papers', demoFile('work-launch.json'));
  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';
  await page.goto(`${shopUrl()}/jobs/${job}/edit`);
  await page.getByLabel('Language of the handover pack').selectOption('Deutsch');
  await page.getByRole('button', { name: 'Store changes' }).click();
  await expect(page).toHaveURL(/loom$/);

  await page.goto(`${shopUrl()}/jobs/${job}/draft`);
  await page.getByRole('button', { name: 'Begin a draft' }).click();
  await page.getByRole('button', { name: 'Box', exact: true }).click();
  const box = page.getByRole('grid', { name: 'Box' });
  await expect(box.getByRole('row').nth(1)).toContainText('Loom in three parts');
  const count = box.getByRole('row').nth(2).getByRole('gridcell').nth(3);
  await count.click();
  await page.keyboard.type('12');
  await page.keyboard.press('Enter');
  await expect(count).toHaveText('12');
  await page.getByRole('button', { name: 'Codes', exact: true }).click();
  await expect(page.getByRole('grid', { name: 'Codes' })).toContainText('The fault lamp flashes each code');
  await page.getByRole('button', { name: 'Fitting', exact: true }).click();
  await expect(page.getByRole('grid', { name: 'Fitting' })).toContainText('never under the shaft');

  await page.goto(`${shopUrl()}/api/jobs/${job}/fuse-card`);
  await expect(page.getByRole('heading', { name: 'Work launch A: Sicherungen und Relais' })).toBeVisible();
  await expect(page.getByRole('columnheader', { name: 'Wenn sie fehlt' })).toBeVisible();
});

test('a photo of the packed box is taken, stands beside what is in the box, and is taken out again', async ({ page }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Launch Tern, packed', demoFile('work-launch.json'));
  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';
  await page.goto(`${shopUrl()}/jobs/${job}/handover`);
  const box = page.getByRole('region', { name: 'The packed box' });
  await expect(box).toContainText('No photo yet');
  await box.getByLabel('Photos of the packed box').setInputFiles(demoFile('packed-box.jpg'));
  const photo = box.getByRole('img', { name: 'The box as it was packed (1)' });
  await expect(photo).toBeVisible();
  await expect(box).toContainText('Mira Solstad');
  expect(await photo.evaluate((img: HTMLImageElement) => img.decode().then(() => img.naturalWidth))).toBe(640);
  await box.getByLabel('Photos of the packed box').setInputFiles(demoFile('world.json'));
  await expect(box.getByRole('alert')).toContainText('This is no photo');
  await box.getByRole('button', { name: 'Take out photo 1' }).click();
  await expect(box).toContainText('No photo yet');
});
