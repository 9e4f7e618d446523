import { expect, test, type Route } from '@playwright/test';
import { Client } from '../client.ts';
import { demoFile, newJob, shopUrl, signIn, stepNumber } from '../hands.ts';

interface Band {
  from: number;
  to: number | null;
  verdict: string;
}

interface Bench {
  run: { id: number; steps: { number: number; joined: boolean; bands: Band[]; standing: { state: string } }[] };
}

test('hands-free with a meter that has no switch matrix: what was read has to be left first, and two places apart are said by a key', async ({ page }) => {
  const lead = await Client.signIn(shopUrl(), 'ada');
  const name = `Meter on the bench ${Date.now()}`;
  await lead.post('/api/instruments', { name, profile: 'bench-four-wire', host: '127.0.0.1', port: 9, matrix: false });
  await signIn(page, 'tomas');
  await newJob(page, 'Launch Whimbrel', demoFile('work-launch.json'));
  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  await page.getByLabel('Meter in hand').selectOption({ label: `${name} · four-wire · read by the program` });
  await page.getByRole('button', { name: 'Make the plan and start' }).click();
  await expect(page.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();

  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';
  const colleague = await Client.signIn(shopUrl(), 'tomas');
  const benchOf = () => colleague.get<Bench>(`/api/jobs/${job}/bench`);
  const { run } = await benchOf();
  const passing = (number: number) => {
    const band = run.steps[number - 1]?.bands.find((b) => b.verdict === 'pass');
    return band?.to == null ? null : (band.from + band.to) / 2;
  };

  // The hand at this bench touches what the card asks for; the meter shows what the loom should.
  const asked: { step: number; left: { ohms: number | null } | null }[] = [];
  const answer = (route: Route, step: number) => route.fulfill({ json: { steady: true, ohms: passing(step), overRange: passing(step) === null } });
  await page.route('**/steady', async (route) => {
    const body = route.request().postDataJSON() as (typeof asked)[number];
    asked.push(body);
    await answer(route, body.step);
  });
  await page.route('**/measure', (route) => answer(route, (route.request().postDataJSON() as { step: number }).step));

  await page.keyboard.press('b');
  await expect(page.getByRole('button', { name: /^By itself/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Hands-free', exact: true }).click();
  const byKey = page.getByText('touch both places and press Space');
  for (let apart = 0; apart < 3; apart++) {
    await expect(byKey).toBeVisible();
    const here = await stepNumber(page);
    expect(run.steps[here - 1]?.joined).toBe(false);
    await page.keyboard.press('Space');
    await expect.poll(() => stepNumber(page)).not.toBe(here);
  }
  await page.keyboard.press('Escape');
  await expect(page.getByText('Hands-free:')).toHaveCount(0);

  expect(asked[0]?.left).toBeNull();
  for (const [i, { step, left }] of asked.entries()) {
    expect(run.steps[step - 1]?.joined).toBe(true);
    if (i > 0) expect(left).toEqual({ ohms: passing(asked[i - 1]?.step ?? 0) });
  }
  await expect.poll(async () => (await benchOf()).run.steps.filter((s) => s.standing.state === 'pass').length).toBeGreaterThanOrEqual(asked.length);
});
