import { expect, test, type Page } from '@playwright/test';
import { fileURLToPath } from 'node:url';
import { demoFile, measureHere, shopUrl, signIn } from '../hands.ts';

const picture = (page: Page, name: string) => page.screenshot({ path: fileURLToPath(new URL(`../../../docs/screenshots/${name}.png`, import.meta.url)) });

test('one picture of each main view', async ({ page }) => {
  const visit = async (path: string, ready: string | RegExp) => {
    await page.goto(shopUrl() + path);
    await expect(page.getByRole('heading', { name: ready }).first()).toBeVisible();
    await page.evaluate(() => document.fonts.ready);
  };
  await visit('/', 'Sign in');
  await picture(page, 'sign-in');
  await signIn(page, 'ada');
  await expect(page.getByRole('link', { name: /Tower fan 5/ })).toBeVisible();
  await picture(page, 'jobs');
  await visit('/jobs/4/loom?at=ECU-A&cavity=25', /ECU-A/);
  await picture(page, 'loom');
  await visit('/jobs/4/bench', 'Start the bench run');
  await picture(page, 'bench-start');
  await page.getByRole('button', { name: 'Make the plan and start' }).click();
  await expect(page.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();
  await measureHere(page);
  await picture(page, 'bench');
  await page.keyboard.press('y');
  await expect(page.getByText('At 20 °C')).toBeVisible();
  await picture(page, 'reason');
  await page.keyboard.press('Escape');
  await page.emulateMedia({ colorScheme: 'dark' });
  await visit('/jobs/4/bench?step=12', /^Step 12/);
  await measureHere(page);
  await picture(page, 'bench-fail-night');
  await page.emulateMedia({ colorScheme: 'light' });
  await visit('/jobs/3/faults', /^Fault 1/);
  await picture(page, 'fault');
  await visit('/jobs/1/handover', 'Packs');
  await picture(page, 'handover');
  await visit('/api/packs/1/html', 'The walk');
  await page.locator('#c3').scrollIntoViewIfNeeded();
  await page.locator('#walk').evaluate((h) => h.scrollIntoView());
  await picture(page, 'pack');
  await visit('/jobs/2/import', 'Bring a file in');
  const wrong = JSON.parse(await (await import('node:fs/promises')).readFile(demoFile('work-launch.json'), 'utf8')) as {
    wires: Record<string, unknown>[];
    branches: Record<string, unknown>[];
  };
  Object.assign(wrong.wires[3] ?? {}, { to: 'INJ9:1' });
  Object.assign(wrong.wires[7] ?? {}, { colour: 'BU/XX', mm2: -0.5 });
  Object.assign(wrong.branches[1] ?? {}, { parent: 'helm' });
  await page.getByLabel('Loom file').setInputFiles({ name: 'work-launch-B.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(wrong)) });
  await expect(page.getByRole('list', { name: 'Problems' })).toBeVisible();
  await picture(page, 'import');
});
