import { expect, test } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { Client } from '../client.ts';
import { shopUrl, signIn } from '../hands.ts';

const small = {
  format: 'wise-loom/loom',
  version: 1,
  loom: { name: 'Mast lead', revision: 'A' },
  families: [{ id: 'two', rows: [['1', '2']] }],
  connectors: [
    { ref: 'A', family: 'two' },
    { ref: 'B', family: 'two' },
  ],
  wires: [
    { id: 'W1', from: 'A:1', to: 'B:1', mm2: 0.5, lengthMm: 1000 },
    { id: 'W2', from: 'A:2', to: 'B:2', mm2: 0.5, lengthMm: 1000 },
  ],
};

/** What stands against release: a technician proposes, a lead lets it pass with a reason, and a run that is set aside takes nothing with it. */
test('a technician proposes, a lead decides, and what a run set aside found is told to the end', async ({ page, browser }) => {
  const mira = await Client.signIn(shopUrl(), 'mira');
  const { id: job } = await mira.post<{ id: number }>('/api/jobs', { customer: 'Quay Nine Launches', machine: 'Launch mast', promised: null, assignedId: null, waitingFor: null });
  await mira.post(`/api/jobs/${job}/loom?after=0`, small);
  const start = async (setAside: number | null) => mira.post<{ id: number; steps: number }>(`/api/jobs/${job}/runs`, { meterId: 1, isolation: 'neighbours', carryOver: false, setAside });
  const first = await start(null);
  const read = (run: number, step: number, ohms: number | null, seen: number) =>
    mira.post(`/api/runs/${run}/readings`, { takenBy: mira.person, readings: [{ key: randomUUID(), step, ohms, overRange: ohms === null, fromMeter: false, takenAt: new Date().toISOString(), seen }] });
  const steps = (await mira.get<{ run: { steps: { number: number; joined: boolean }[] } }>(`/api/jobs/${job}/bench`)).run.steps;
  const joined = steps.filter((s) => s.joined).map((s) => s.number);
  await read(first.id, joined[0]!, 5, 0);

  // Another run does not make the failure go away.
  const second = await start(first.id);
  for (const step of steps) if (step.number !== joined[0]) await read(second.id, step.number, step.joined ? 0.042 : null, 0);
  await signIn(page, 'mira');
  await page.goto(`${shopUrl()}/jobs/${job}/handover`);
  await expect(page.getByText(`Run ${first.id}, set aside: Step ${joined[0]}`)).toBeVisible();
  const earlier = page.getByRole('listitem').filter({ hasText: `Run ${first.id}, set aside` });
  await earlier.getByRole('button', { name: 'Propose to let it pass' }).click();
  const dialog = page.getByRole('dialog', { name: 'Propose to let it pass' });
  await dialog.getByLabel('Why').fill('The plug was not on.');
  await dialog.getByRole('button', { name: 'Propose it' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(earlier).toContainText('Mira Solstad proposes to let it pass: The plug was not on.');
  await expect(page.getByText('A lead signs the pack.')).toBeVisible();

  const lead = await (await browser.newContext()).newPage();
  await signIn(lead, 'ada');
  await lead.goto(`${shopUrl()}/jobs/${job}/handover`);
  const holds = lead.getByRole('region', { name: 'Not to be released yet' });
  const hold = holds.getByRole('listitem').filter({ hasText: `Run ${first.id}, set aside` });
  await hold.getByRole('button', { name: 'Let it pass, with a reason' }).click();
  const decision = lead.getByRole('dialog', { name: 'Let it pass' });
  await decision.getByLabel('Why').fill('Seen with Mira: the plug was not on.');
  await decision.getByRole('button', { name: 'Let it pass' }).click();
  await expect(decision).toHaveCount(0);
  await expect(hold).toHaveCount(0);
  await read(second.id, joined[0]!, 0.042, 0);
  await expect(lead.getByRole('heading', { name: 'Nothing stands against release' })).toBeVisible();
  await lead.getByRole('checkbox').check();
  await lead.getByRole('button', { name: 'Sign the pack' }).click();
  await expect(lead.getByRole('heading', { name: 'Pack 1', exact: true })).toBeVisible({ timeout: 60_000 });
  const href = await lead.getByRole('link', { name: 'HTML' }).getAttribute('href');
  await lead.goto(new URL(href ?? '', shopUrl()).href);
  await expect(lead.getByRole('heading', { name: 'Runs that were set aside' })).toBeVisible();
  await expect(lead.getByText(`Run ${first.id}, revision A: 1 of ${steps.length} steps done`)).toBeVisible();
});
