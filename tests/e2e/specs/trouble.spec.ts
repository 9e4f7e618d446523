import { expect, test, type Page } from '@playwright/test';
import { Client } from '../client.ts';
import { demoFile, newJob, shopUrl, signIn, signInByForm, startRun, startRunWith, stepNumber } from '../hands.ts';
import { practiceMeter } from '../practice.ts';

interface Recorded {
  steps: { number: number; readings: { value: number | null; by: string }[] }[];
}

/** Every reading of the page's run, as the record has them. */
async function recorded(page: Page) {
  const client = await Client.signIn(shopUrl(), 'ada');
  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';
  const { run } = await client.get<{ run: { id: number } }>(`/api/jobs/${job}/bench`);
  const { steps } = await client.get<Recorded>(`/api/runs/${run.id}/record.json`);
  return steps.flatMap((s) => s.readings.map((r) => ({ step: s.number, ...r })));
}

/** Types a reading; says which step it was of. */
async function type(page: Page, text: string, words: string) {
  const here = await stepNumber(page);
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('verdict')).toContainText(words);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: `Step ${here} of` })).toBeHidden();
  return here;
}

test('the network is away: readings wait in sight, the page says since when, and each arrives once', async ({ page }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Launch Dotterel', demoFile('work-launch.json'));
  await startRun(page);
  await type(page, '30m', 'Saved, Mira Solstad');
  await page.context().setOffline(true);
  for (let i = 0; i < 3; i++) await type(page, '31m', 'Kept here, not yet at the server');
  await expect(page.getByText('3 readings wait here.')).toBeVisible();
  await expect(page.getByTestId('alone')).toContainText(/^Alone since/);
  await page.context().setOffline(false);
  await expect(page.getByText('3 readings wait here.')).toBeHidden();
  await expect(page.getByTestId('alone')).toHaveCount(0);
  const all = await recorded(page);
  expect(all.map((r) => r.value)).toEqual([0.03, 0.031, 0.031, 0.031]);
  expect(new Set(all.map((r) => r.step)).size).toBe(4);
});

test('two tabs of one person: what one takes the other shows, and nothing is stored twice', async ({ page }) => {
  await signIn(page, 'tomas');
  await newJob(page, 'Launch Plover', demoFile('work-launch.json'));
  await startRun(page);
  const second = await page.context().newPage();
  await second.goto(page.url());
  await expect(second.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();
  const here = await type(page, '30m', 'Saved, Tomas Wren');
  await second.goto(`${page.url().split('?')[0]}?step=${here}`);
  await expect(second.getByTestId('verdict')).toContainText('30.0 mΩ');
  await Promise.all([type(page, '32m', 'Saved, Tomas Wren'), type(second, '33m', 'Saved, Tomas Wren')]);
  const all = await recorded(page);
  expect(all.map((r) => r.value).sort()).toEqual([0.03, 0.032, 0.033]);
});

test('two people on one browser: what the first left is never sent under the second’s name', async ({ page }) => {
  await signInByForm(page, 'mira');
  await newJob(page, 'Launch Redshank', demoFile('work-launch.json'));
  await startRun(page);
  const bench = page.url();
  await page.route('**/api/runs/*/readings', (route) => route.abort());
  await type(page, '30m', 'Kept here, not yet at the server');
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await page.unroute('**/api/runs/*/readings');
  await signInByForm(page, 'tomas');
  await page.goto(bench);
  await expect(page.getByText('1 reading of Mira Solstad waits in this browser.')).toBeVisible();
  await type(page, '31m', 'Saved, Tomas Wren');
  expect((await recorded(page)).map((r) => [r.value, r.by])).toEqual([[0.031, 'Tomas Wren']]);
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await signInByForm(page, 'mira');
  await page.goto(bench);
  await expect(page.getByText(/waits in this browser/)).toHaveCount(0);
  await expect
    .poll(async () => (await recorded(page)).map((r) => [r.value, r.by]).sort())
    .toEqual([
      [0.03, 'Mira Solstad'],
      [0.031, 'Tomas Wren'],
    ]);
});

/** Long: a meter is given time to come back. */
test('a meter that drops out ends the fixture’s run in words, and it goes on when the meter is back', { tag: '@deep' }, async ({ page }) => {
  const meter = await practiceMeter('work-launch.json', [], 31);
  await signIn(page, 'mira');
  await newJob(page, 'Launch Curlew', demoFile('work-launch.json'));
  await startRunWith(page, meter.name);
  await page.keyboard.press('b');
  await page.getByRole('button', { name: 'By itself, to the end' }).click();
  await expect(page.getByText(/\d\d done/)).toBeVisible();
  meter.stop();
  await expect(page.getByTestId('ended')).toHaveText('The meter gave no reading.');
  await expect(page.getByText(/The meter at .* (cannot be reached|hung up)/)).toBeVisible();
  const before = await recorded(page);
  expect(new Set(before.map((r) => r.step)).size).toBe(before.length);

  const again = await practiceMeter('work-launch.json', [], 32);
  const lead = await Client.signIn(shopUrl(), 'ada');
  const all = await lead.get<{ id: number; name: string; port: number; version: number }[]>('/api/instruments');
  const other = all.find((m) => m.id === again.id);
  await lead.put(`/api/instruments/${meter.id}`, { name: meter.name, profile: 'bench-four-wire', host: '127.0.0.1', port: other?.port, matrix: true }, 1);
  await page.keyboard.press('b');
  await page.getByRole('button', { name: 'By itself, to the end' }).click();
  await expect(page.getByTestId('ended')).toHaveText('Nothing is left to measure.', { timeout: 120_000 });
  const after = await recorded(page);
  expect(new Set(after.map((r) => r.step)).size).toBe(after.length);
  again.stop();
});

test('a browser that refuses to keep anything says so, and loses nothing while the page is open', async ({ page }) => {
  await page.addInitScript(() => {
    Object.defineProperty(globalThis, 'indexedDB', {
      value: {
        open: () => {
          throw new DOMException('refused', 'SecurityError');
        },
      },
    });
  });
  await signIn(page, 'tomas');
  await newJob(page, 'Launch Lapwing', demoFile('work-launch.json'));
  await startRun(page);
  await page.route('**/api/runs/*/readings', (route) => route.abort());
  await type(page, '30m', 'Kept here, not yet at the server');
  await expect(page.getByText('This browser cannot keep readings.')).toBeVisible();
  await page.unroute('**/api/runs/*/readings');
  await expect(page.getByText('This browser cannot keep readings.')).toBeHidden();
  expect((await recorded(page)).map((r) => r.value)).toEqual([0.03]);
});
