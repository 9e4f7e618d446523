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

  await visit('/book/1?at=T1:15', /T1/);
  await picture(page, 'sheet');
  await visit('/book/1/loose/T1', 'Loose wires of T1');
  await expect(page.getByRole('region', { name: 'Wire in T1:1', exact: true })).toBeVisible();
  for (let done = 1; done <= 8; done++) {
    await page.keyboard.press('Enter');
    await expect(page.getByText(`${done} of 60 cavities identified`)).toBeVisible();
  }
  await picture(page, 'loose');
  await visit('/compare?left=sheet-3&right=sheet-1', 'Compare');
  await expect(page.getByText('ECU-A fits where T1 belongs')).toBeVisible();
  await picture(page, 'compare');
  await visit('/library?family=slab-48', 'Body plug, 48-way');
  await picture(page, 'library');
  await visit('/merges', 'Begin a merge');
  await page.getByLabel('Title').fill('Tower fan 5, new controller');
  await page.getByLabel('For the job').selectOption({ label: '4 Tower fan 5, V8' });
  await page.getByLabel('Left: what is there').selectOption({ label: 'Tower fan, tower side' });
  await page.getByLabel('Right: what comes').selectOption({ label: 'Orchard controller, second type' });
  await page.getByRole('button', { name: 'Match them' }).click();
  await page.getByRole('button', { name: /^Accept these/ }).click();
  await expect(page.getByRole('heading', { name: /^Joined: [1-9]/ })).toBeVisible();
  await picture(page, 'merge');
  await page.goto(`${shopUrl()}/jobs/2/draft`);
  await page.getByRole('button', { name: 'Begin a draft' }).click();
  const grid = page.getByRole('grid', { name: 'Wires' });
  await grid.getByRole('row').nth(4).getByRole('gridcell').nth(2).click();
  await page.keyboard.type('INJ9:1');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByText('1 problem')).toBeVisible();
  await expect(page.getByRole('figure').first()).toBeVisible();
  await picture(page, 'draft');
});
