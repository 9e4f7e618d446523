import { expect, test, type Page } from '@playwright/test';
import { demoFile, newJob, shopUrl, signIn, startRun, startRunWith } from '../hands.ts';
import { Client } from '../client.ts';
import { practiceMeter } from '../practice.ts';

interface Bench {
  run: { id: number; steps: { number: number; standing: { state: string; carried: string | null } }[] };
}

const benchOf = async (page: Page, who: 'mira' | 'tomas') => {
  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';
  return (await Client.signIn(shopUrl(), who)).get<Bench>(`/api/jobs/${job}/bench`);
};

const failing = ({ run }: Bench) => run.steps.filter((s) => s.standing.state === 'fail').map((s) => s.number);

/** Long: a whole plan, step after step. */
test('the fixture takes the whole plan by itself, each step once, and the same steps fail as by hand', async ({ page }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Launch Dunlin', demoFile('work-launch.json'));
  await startRun(page);
  await page.keyboard.press('b');
  await page.getByRole('button', { name: 'By itself, to the end' }).click();
  await expect(page.getByTestId('ended')).toHaveText('Nothing is left to measure.', { timeout: 120_000 });
  const bar = page.getByRole('progressbar', { name: 'Steps done' });
  await expect(bar).toHaveAttribute('aria-valuenow', (await bar.getAttribute('aria-valuemax')) ?? '');
  await expect(page.getByTestId('verdict')).toContainText('Saved, Mira');
  await expect(page.getByText(/done, 0 s left/)).toBeVisible();

  // The launch on the practice bench hides faults, and nobody mends them in these tests.
  const fixture = await benchOf(page, 'mira');
  expect(fixture.run.steps.filter((s) => s.standing.state === 'not-tested')).toEqual([]);
  expect(failing(fixture).length).toBeGreaterThan(0);
  const client = await Client.signIn(shopUrl(), 'mira');
  const { steps } = await client.get<{ steps: unknown[] }>(`/api/runs/${fixture.run.id}/way?from=0&turned=false`);
  expect(steps).toEqual([]);
});

test('it stops where a step fails, and where it is told to', async ({ page }) => {
  await signIn(page, 'tomas');
  await newJob(page, 'Launch Godwit', demoFile('work-launch.json'));
  await startRun(page);
  await page.keyboard.press('b');
  await page.getByRole('button', { name: 'By itself, to the first fail' }).click();
  await expect(page.getByTestId('ended')).toHaveText(/^Step \d+ fails\.$/, { timeout: 120_000 });
  await expect(page.getByTestId('verdict')).toContainText('Fail');
  expect(failing(await benchOf(page, 'tomas'))).toHaveLength(1);

  await page.keyboard.press('b');
  await page.getByRole('button', { name: 'Hands-free', exact: true }).click();
  await expect(page.getByText('Hands-free: hold still until the tone.')).toBeVisible();
  const before = (await benchOf(page, 'tomas')).run.steps.filter((s) => s.standing.state !== 'not-tested').length;
  await expect
    .poll(async () => (await benchOf(page, 'tomas')).run.steps.filter((s) => s.standing.state !== 'not-tested').length)
    .toBeGreaterThan(before + 1);
  await page.keyboard.press('Escape');
  await expect(page.getByText('Hands-free: hold still until the tone.')).toHaveCount(0);
});

test('a connector that is not at hand: its steps wait, the rest goes on, and it comes back', async ({ page }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Launch Petrel', demoFile('work-launch.json'));
  await startRun(page);
  const here = (await page.getByRole('heading', { level: 2, name: /^Step/ }).textContent()) ?? '';
  await page.keyboard.press('n');
  const dialog = page.getByRole('dialog', { name: 'Not at hand' });
  await dialog.getByRole('checkbox').first().check();
  await dialog.getByRole('button', { name: 'Plan without them' }).click();
  await expect(page).toHaveURL(/away=/);
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('Space');
  await expect(page.getByTestId('verdict')).toContainText('Saved');
  const away = new URL(page.url()).searchParams.get('away') ?? '';
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: here })).toHaveCount(0);
  await expect(page.getByTestId('next')).not.toContainText(`${away}:`);
  await page.keyboard.press('n');
  await page.getByRole('dialog').getByRole('checkbox', { name: new RegExp(`^${away} `) }).uncheck();
  await page.getByRole('button', { name: 'Plan without them' }).click();
  await expect(page).not.toHaveURL(/away=/);
});

test('a loose contact shows while the loom is flexed, and a reading at rest is no answer to it', async ({ page }) => {
  const meter = await practiceMeter('work-launch.json', [{ kind: 'intermittent', wire: 'W1', end: 'to' }], 21);
  await signIn(page, 'mira');
  await newJob(page, 'Launch Sanderling', demoFile('work-launch.json'));
  await startRunWith(page, meter.name);
  const { run } = await (await Client.signIn(shopUrl(), 'mira')).get<{ run: { steps: { number: number; way: string[] }[] } }>(
    `/api/jobs/${/jobs\/(\d+)/.exec(page.url())?.[1] ?? ''}/bench`,
  );
  await page.goto(`${page.url().split('?')[0]}?step=${run.steps.find((s) => s.way.includes('W1'))?.number ?? 0}`);
  await page.getByRole('heading', { name: /^Step \d+ of/ }).waitFor();
  await page.keyboard.press('w');
  const dialog = page.getByRole('dialog', { name: /^Move the loom/ });
  await page.keyboard.press('ArrowRight');
  await expect(dialog.getByTestId('wiggle')).toContainText(/over range, ([2-9]|\d\d+) breaks/);
  await dialog.getByRole('button', { name: 'Stop and keep it' }).click();
  await expect(page.getByTestId('verdict')).toContainText(/Fail.*moved for .* s: \d+ breaks, hand at /);
  await page.keyboard.press('Space');
  await expect(page.getByText(/while the loom lay still\. It broke when it was moved/)).toBeVisible();
  await expect(page.getByTestId('verdict')).toContainText('Fail');
  meter.stop();
});

/** Long: a thorough plan is worked out and measured. For each change, the core’s tests hold the groups. */
test('a fixture proves a thorough plan’s isolation by groups before it takes the rest', { tag: '@deep' }, async ({ page }) => {
  const meter = await practiceMeter('work-launch.json', [], 22);
  await signIn(page, 'tomas');
  await newJob(page, 'Launch Ruff', demoFile('work-launch.json'));
  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  await page.getByLabel('Meter in hand').selectOption({ label: `${meter.name} · four-wire · switches the probes itself` });
  await page.getByRole('radio', { name: /Thorough/ }).check();
  await page.getByRole('button', { name: 'Make the plan and start' }).click();
  await expect(page.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();
  await page.keyboard.press('b');
  await page.getByRole('button', { name: 'By itself, to the end' }).click();
  await expect(page.getByTestId('ended')).toHaveText('Nothing is left to measure.', { timeout: 120_000 });
  await expect(page.getByText(/done, 0 s left/)).toBeVisible();
  await expect(page.getByTestId('verdict')).toContainText('Saved, Tomas');
  const { run } = await benchOf(page, 'tomas');
  expect(run.steps.filter((s) => s.standing.state !== 'pass' && s.standing.state !== 'cant-tell')).toEqual([]);
  expect(run.steps.filter((s) => s.standing.carried?.includes('readings of groups')).length).toBeGreaterThan(30);
  meter.stop();
});
