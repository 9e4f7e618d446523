import { expect, test, type Page } from '@playwright/test';
import { demoFile, newJob, shopUrl, signIn, takeFile } from '../hands.ts';
import { ShopServer } from '../server.ts';

test('a stranger sees the sign-in page and nothing else', async ({ page }) => {
  await page.goto(`${shopUrl()}/jobs/1/handover`);
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await page.getByLabel('Name').fill('mira');
  await page.getByLabel('Password').fill('guess');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('do not fit together');

  await page.getByRole('button', { name: /Mira Solstad/ }).click();
  await expect(page.getByRole('heading', { name: 'Packs' })).toBeVisible();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
});

test('jobs say where they are and what holds them', async ({ page }) => {
  await signIn(page, 'mira');
  await expect(page.getByRole('link', { name: /Launch Petrel, starboard/ })).toContainText('Waits for the customer’s controller');
  await expect(page.getByRole('link', { name: /Launch Petrel, port/ })).toContainText('1 fault not proven');
  await page.getByLabel('Find a job').fill('released');
  await expect(page.getByRole('link', { name: /Launch Petrel/ })).toHaveCount(0);
  await expect(page.getByRole('link', { name: /Tower fan 2/ })).toBeVisible();
});

test('a wrong loom file lists every problem at its place, a right one shows the loom', async ({ page }) => {
  await signIn(page, 'mira');
  await page.goto(`${shopUrl()}/jobs/new`);
  await page.getByLabel('Customer').fill('Skerry Harbour Works');
  await page.getByLabel('Machine').fill('Launch Tern');
  await page.getByLabel('Machine').press('Enter');
  const wrong = { format: 'wise-loom/loom', version: 1, loom: { name: 'x', revision: 'A' }, wires: [{ id: 'W1', from: 'A:1', to: 'B:1', mm2: -1 }] };
  await page.getByLabel('Loom file').setInputFiles({ name: 'wrong.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(wrong)) });
  const problems = page.getByRole('list', { name: 'Problems' }).getByRole('listitem');
  await expect(problems).toHaveCount(4);
  await expect(problems.filter({ hasText: '/wires/0/lengthMm' })).toContainText('Missing');

  await takeFile(page, demoFile('work-launch.json'));
  await expect(page.getByRole('row')).toHaveCount(137);
});

test('a tag narrows the loom to its connector, and a cavity is ringed on both faces', async ({ page }) => {
  await signIn(page, 'mira');
  await page.goto(`${shopUrl()}/jobs/4/loom`);
  await page.getByRole('button', { name: /^INJ3,/ }).click();
  await expect(page.getByRole('heading', { name: 'Wires at INJ3' })).toBeVisible();
  await page.getByRole('button', { name: 'ECU-A:23' }).click();
  await expect(page.getByRole('img', { name: 'ECU-A, mating face, cavity 23 ringed: row 2, 3rd from the left' })).toBeVisible();
  await expect(page.getByRole('img', { name: 'ECU-A, wire side, cavity 23 ringed: row 2, 18th from the left' })).toBeVisible();
  await page.goBack();
  await expect(page.getByRole('heading', { name: 'Wires at INJ3' })).toBeVisible();
});

test('the second of two people who change a job sees both changes and chooses', async ({ page, browser }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Tower fan 8', demoFile('frost-fan.json'));
  const edit = page.url().replace(/loom$/, 'edit');
  const other = await (await browser.newContext()).newPage();
  await signIn(other, 'tomas');
  await page.goto(edit);
  await other.goto(edit);
  await page.getByLabel('Waits for').fill('a housing');
  await other.getByLabel('Machine').fill('Tower fan 9');
  await page.getByRole('button', { name: 'Store changes' }).click();
  await expect(page).toHaveURL(/\/loom$/);
  await other.getByRole('button', { name: 'Store changes' }).click();
  await expect(other.getByText('Somebody else changed this job')).toBeVisible();
  await expect(other.getByText('Waits for: theirs a housing, yours nothing')).toBeVisible();
  await expect(other.getByText('Machine: theirs Tower fan 8, yours Tower fan 9')).toBeVisible();
  await other.getByRole('button', { name: 'Take theirs, drop mine' }).click();
  await expect(other.getByLabel('Waits for')).toHaveValue('a housing');
  await other.context().close();
});

/** Long: a shop of its own, whose limits change. */
test('a lead changes the shop’s limits, another sees both and chooses; a technician only reads them', async ({ page, browser }) => {
  // A shop of its own: others enter their instruments under the same limits.
  const shop = await ShopServer.open('limits');
  try {
    await signIn(page, 'ada', shop.url);
    await page.getByRole('link', { name: 'Limits' }).click();
    const stored = async (by: Page, press: string) => {
      const answer = by.waitForResponse((r) => r.url().endsWith('/api/limits') && r.request().method() === 'PUT');
      await by.getByRole('button', { name: press }).click();
      expect((await answer).status()).toBe(200);
      await expect(by.getByText(/^As Ada Quill left them on/)).toBeVisible();
    };
    const other = await (await browser.newContext()).newPage();
    await signIn(other, 'ada', shop.url);
    await other.goto(`${shop.url}/limits`);
    const last = page.getByLabel('What a single wire carries, Amperes, row 14');
    await expect(last).toHaveValue('190');
    await expect(other.getByLabel('What a single wire carries, Amperes, row 14')).toHaveValue('190');

    await last.fill('many');
    await page.getByRole('button', { name: 'Store the limits' }).click();
    await expect(page.getByRole('region', { name: 'What a single wire carries' }).getByText('A current lies between 0 and 2,000 A.')).toBeVisible();
    await last.fill('195,5');
    await stored(page, 'Store the limits');
    await page.reload();
    await expect(last).toHaveValue('195.5');

    // A line that was away and comes back takes nothing away that was typed.
    await other.getByLabel('What a single wire carries, Amperes, row 14').fill('201');
    await other.context().setOffline(true);
    await other.context().setOffline(false);
    await expect(other.getByLabel('What a single wire carries, Amperes, row 14')).toHaveValue('201');
    await other.getByRole('button', { name: 'Store the limits' }).click();
    await expect(other.getByText('Somebody else changed this list of limits')).toBeVisible();
    await expect(other.getByText('What a single wire carries, Section, mm² 50, Amperes: theirs 195.5, yours 201')).toBeVisible();
    await stored(other, 'Store mine over theirs');
    await other.context().close();

    await page.getByRole('button', { name: 'Sign out' }).click();
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await signIn(page, 'mira', shop.url);
    await page.goto(`${shop.url}/limits`);
    await expect(last).toHaveValue('201');
    await expect(last).toHaveAttribute('readonly');
    await expect(page.getByRole('button', { name: 'Store the limits' })).toHaveCount(0);
  } finally {
    await shop.close();
  }
});
