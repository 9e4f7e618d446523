import { expect, test } from '@playwright/test';
import { clean } from '../axe.ts';
import { demoFile, newJob, paste, shopUrl, signIn, startRun } from '../hands.ts';
import { readFile } from 'node:fs/promises';

/** Long: every line of two sheets is decided, and three full tables are looked at for accessibility. */
test('two sheets are merged: like to like by one key, then a decision for the rest, then a draft and its work list', async ({ page }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Tower fan 14', demoFile('frost-fan.json'));
  await page.goto(`${shopUrl()}/merges`);
  await page.getByLabel('Title').fill('New controller for fan 14');
  await page.getByLabel('For the job').selectOption({ label: await page.getByRole('option', { name: /Tower fan 14/ }).innerText() });
  await page.getByLabel('Left: what is there').selectOption({ label: 'Tower fan, tower side' });
  await page.getByLabel('Right: what comes').selectOption({ label: 'Orchard controller, second type' });
  await page.getByRole('button', { name: 'Match them' }).click();

  await page.getByRole('button', { name: /^Accept these/ }).click();
  const joined = page.getByRole('region', { name: 'Joined' });
  const count = async () => Number(/\d+/.exec((await joined.getByRole('heading').textContent()) ?? '')?.[0]);
  await expect(joined.getByRole('listitem').first()).toBeVisible();
  const sure = await count();
  expect(sure).toBeGreaterThan(70);
  await clean(page, 'like to like');
  await page.keyboard.press('Enter');
  await expect(joined.getByRole('heading')).toHaveText(`Joined: ${sure + 1}`);
  await page.keyboard.press('Backspace');
  await page.getByRole('button', { name: /^2\. What is left/ }).click();
  const left = page.getByRole('region', { name: 'Only on Tower fan, tower side' });
  await left.getByRole('combobox').first().selectOption('leave-out');
  await left.getByRole('button', { name: 'All open: keep, insulate' }).click();
  await expect(left.getByRole('heading')).toContainText('0 open');
  const right = page.getByRole('region', { name: 'Only on Orchard controller, second type' });
  await right.getByRole('combobox').first().selectOption('relay');
  await right.getByRole('combobox').nth(1).selectOption('option-tail');
  await right.getByRole('button', { name: 'All open: leave out, plug the cavity' }).click();
  await expect(right.getByRole('heading')).toContainText('0 open');
  await clean(page, 'what is left');

  await page.getByRole('button', { name: /^3\. The loom/ }).click();
  await page.getByRole('button', { name: 'Make the loom as a draft' }).click();
  const work = page.getByRole('region', { name: 'To be added' });
  await expect(work.getByText('relay', { exact: true })).toBeVisible();
  await work.getByRole('checkbox').first().check();
  await expect(work.getByText('Mira Solstad')).toBeVisible();
  await clean(page, 'work list');
  await page.getByRole('link', { name: /Open the draft of job/ }).click();
  await expect(page.getByRole('grid', { name: 'Wires' })).toBeVisible();
  await expect(page.getByText(/No problem/)).toBeVisible();
});

/** Long: a whole plan is measured before the rework. */
test('a rework goes through a workbook, shows its changes, and carries over the proof that still holds', { tag: '@deep' }, async ({ page }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Tower fan 15', demoFile('frost-fan.json'));
  await startRun(page);
  for (const step of [1, 2, 3]) {
    await expect(page.getByRole('heading', { name: `Step ${step} of` })).toBeVisible();
    await page.keyboard.press('Space');
    await expect(page.getByTestId('verdict')).toContainText('Saved');
    await page.keyboard.press('Enter');
  }
  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';

  await page.goto(`${shopUrl()}/jobs/${job}/revisions`);
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'workbook (XLSX)' }).click()]);
  await page.goto(`${shopUrl()}/jobs/${job}/import`);
  await page.getByLabel('Loom file').setInputFiles({ name: 'fan.xlsx', mimeType: '', buffer: await readFile(await download.path()) });
  await expect(page.getByText('Nothing would change')).toBeVisible();

  // A table that replaces the wires, with one wrong end: refused with its row; nothing is stored.
  const head = 'wire,from,to,mm2,length_mm\n';
  await page.getByLabel('Loom file').setInputFiles({ name: 'wires.csv', mimeType: 'text/csv', buffer: Buffer.from(`${head}W1,ECU-A:21,INJ1:2,0.5,1630\nW2,ECU-A:99,INJ2:2,0.5,1780\n`) });
  await expect(page.getByRole('list', { name: 'Problems' })).toContainText('wires.csv row 3, column from');

  await page.goto(`${shopUrl()}/jobs/${job}/draft`);
  await page.getByRole('button', { name: 'Begin a draft' }).click();
  const grid = page.getByRole('grid', { name: 'Wires' });
  await grid.focus();
  await page.keyboard.press('Control+End');
  await page.keyboard.press('Home');
  await paste(page, 'W151\tR-FRAME:1\tT-SIREN:1\tPK\t0.5\t\t900\tSiren test');
  await expect(page.getByTestId('keeping')).toHaveText('Saved');
  await page.getByRole('button', { name: 'Release' }).click();
  const changes = page.getByRole('list', { name: 'Changes' });
  await expect(changes).toContainText('Wire W151 is new: R-FRAME:1 to T-SIREN:1, Siren test.');
  await expect(changes).toContainText('revision C → D');

  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  await expect(page.getByText(/Carry over what still holds: [1-9]/)).toBeVisible();
  await expect(page.getByText(/This sets a run aside/)).toBeVisible();
  await page.getByRole('checkbox', { name: 'Set that run aside and start another' }).check();
  await page.getByRole('button', { name: 'Make the plan and start' }).click();
  await expect(page.getByText(/carried over from revision C/).or(page.getByRole('heading', { name: /^Step \d+ of/ })).first()).toBeVisible();
  // What still holds stands behind what must be measured.
  const steps = /of (\d+)/.exec((await page.getByRole('heading', { name: /^Step \d+ of/ }).textContent()) ?? '')?.[1] ?? '';
  await page.goto(`${page.url().split('?')[0] ?? ''}?step=${steps}`);
  await expect(page.getByTestId('verdict')).toContainText('carried over from revision C, step');
});
