import { expect, type Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { Client } from './client.ts';

export const shopUrl = () => process.env.SHOP_URL ?? '';

type Who = 'mira' | 'ada' | 'tomas';

/** The page of one of the example shop's people, with the session that this worker has kept for them; at a shop of its own by the form.
 *  A test that ends sessions signs in by the form. */
export async function signIn(page: Page, who: Who, url = shopUrl()) {
  if (url !== shopUrl()) {
    await signInByForm(page, who, url);
    return;
  }
  await page.context().addCookies((await Client.signIn(url, who)).storageState().cookies);
  await page.goto(url);
  await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
}

/** Signs in as somebody does who comes to the page. */
export async function signInByForm(page: Page, who: Who, url = shopUrl()) {
  const passwords = { mira: 'copper-and-crimp', tomas: 'second-row-fifth', ada: 'nothing-left-open' };
  await page.goto(url);
  await page.getByLabel('Name').fill(who);
  await page.getByLabel('Password').fill(passwords[who]);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
}

/** Makes a job by the form and imports a loom file into it; leaves the page on its loom. */
export async function newJob(page: Page, machine: string, file: string | { name: string; mimeType: string; buffer: Buffer }, url = shopUrl()) {
  await page.goto(`${url}/jobs/new`);
  await page.getByLabel('Customer').fill('Hollow Lane Orchards');
  await page.getByLabel('Machine').fill(machine);
  await page.getByRole('button', { name: 'Make the job' }).click();
  await takeFile(page, file);
}

/** Brings a sound file in as the job's loom. */
export async function takeFile(page: Page, file: string | { name: string; mimeType: string; buffer: Buffer }) {
  await page.getByLabel('Loom file').setInputFiles(file);
  await page.getByRole('button', { name: /^Take it as/ }).click();
  await expect(page).toHaveURL(/\/loom$/);
}

/** Presses Tab until the control with this name has the focus: what a person without a mouse does. Gives how many presses it took. */
export async function tabTo(page: Page, name: RegExp | string, most = 120): Promise<number> {
  for (let presses = 1; presses <= most; presses++) {
    await page.keyboard.press('Tab');
    const here = await page.evaluate(() => {
      const at = document.activeElement;
      return at?.getAttribute('aria-label') ?? (at instanceof HTMLInputElement || at instanceof HTMLSelectElement ? (at.labels?.[0]?.textContent ?? '') : (at?.textContent ?? ''));
    });
    if (typeof name === 'string' ? here.trim() === name : name.test(here.trim())) return presses;
  }
  throw new Error(`No control named ${String(name)} within ${most} presses of Tab.`);
}

/** Puts text on the clipboard, as copying in a spreadsheet does, and pastes it where the focus is. */
export async function paste(page: Page, text: string) {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.evaluate((t) => navigator.clipboard.writeText(t), text);
  await page.keyboard.press('Control+V');
}

export const demoFile = (name: string) => new URL(`../../demo/${name}`, import.meta.url).pathname;

/** Starts a run with the meter that is offered first for this loom. */
export async function startRun(page: Page) {
  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  await page.getByRole('button', { name: 'Make the plan and start' }).click();
  await expect(page.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();
}

/** Starts a run with a meter of the shop that switches the probes itself. */
export async function startRunWith(page: Page, meter: string) {
  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  await page.getByLabel('Meter in hand').selectOption({ label: `${meter} · four-wire · switches the probes itself` });
  await page.getByRole('button', { name: 'Make the plan and start' }).click();
  await expect(page.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();
}

export const stepNumber = async (page: Page) =>
  Number(/Step (\d+)/.exec((await page.getByRole('heading', { name: /^Step \d+ of/ }).textContent()) ?? '')?.[1]);

/** Space, verdict, saved; all by keyboard. Gives the verdict's words. Looks at every frame, since hundreds of steps are measured. */
export async function measureHere(page: Page): Promise<string> {
  await page.keyboard.press('Space');
  const said = await page.waitForFunction(() => {
    const words = document.querySelector('[data-testid=verdict]')?.textContent ?? '';
    return words.includes('Saved') ? words : null;
  });
  return (await said.jsonValue()) ?? '';
}

/** Measures with Space and Enter until nothing is left to do; gives the steps that failed. */
export async function measureAll(page: Page): Promise<number[]> {
  const failed: number[] = [];
  for (;;) {
    const here = await stepNumber(page);
    if ((await measureHere(page)).includes('Fail')) failed.push(here);
    const bar = page.getByRole('progressbar', { name: 'Steps done' });
    if ((await bar.getAttribute('aria-valuenow')) === (await bar.getAttribute('aria-valuemax'))) return failed;
    await page.keyboard.press('Enter');
    await page.waitForFunction((step) => ![...document.querySelectorAll('h2')].some((h) => h.textContent?.startsWith(`Step ${step} of`)), here);
  }
}

/** A job with the demo's launch, measured to the end: the first step and the failing ones on the page, the rest by a colleague. */
export async function measuredLaunch(page: Page, machine: string, meter: string) {
  await signIn(page, 'mira');
  await newJob(page, machine, demoFile('work-launch.json'));
  await startRunWith(page, meter);
  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';
  await measureHere(page);
  await measureBeside(job);
  await page.keyboard.press('Enter');
  await measureAll(page);
}

/** A colleague with the same meter takes the run's other steps, so that every twelfth is left for the page; gives those that failed. */
export async function measureBeside(job: string): Promise<number[]> {
  const colleague = await Client.signIn(shopUrl(), 'tomas');
  const { run } = await colleague.get<{ run: { id: number; lastEvent: number; steps: { number: number }[] } }>(`/api/jobs/${job}/bench`);
  const failed: number[] = [];
  for (const { number: step } of run.steps.filter((s) => s.number % 12 !== 1)) {
    const { ohms, overRange } = await colleague.post<{ ohms: number | null; overRange: boolean }>(`/api/runs/${run.id}/measure`, { step });
    const reading = { key: randomUUID(), step, ohms, overRange, fromMeter: true, takenAt: new Date().toISOString(), seen: run.lastEvent };
    const { stored } = await colleague.post<{ stored: { reading: { verdict: string } }[] }>(`/api/runs/${run.id}/readings`, { takenBy: colleague.person, readings: [reading] });
    if (stored[0]?.reading.verdict === 'fail') failed.push(step);
  }
  return failed;
}
