import { expect, test } from '@playwright/test';
import { clean } from '../axe.ts';
import { demoFile, newJob, shopUrl, signIn, startRun } from '../hands.ts';

for (const colorScheme of ['light', 'dark'] as const) {
  test(`axe finds nothing on any page, ${colorScheme}`, async ({ browser }) => {
    const page = await (await browser.newContext({ colorScheme, viewport: { width: 1280, height: 800 } })).newPage();
    await page.goto(shopUrl());
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await clean(page, 'sign-in');
    await signIn(page, 'ada');
    await expect(page.getByRole('link', { name: /Tower fan 5/ })).toBeVisible();
    await clean(page, 'jobs');
    const visit = async (path: string, ready: string | RegExp) => {
      await page.goto(shopUrl() + path);
      await expect(page.getByRole('heading', { name: ready }).first()).toBeVisible();
      await clean(page, path);
    };
    await visit('/jobs/new', 'New job');
    await visit('/jobs/4/edit', 'Job 4');
    await visit('/jobs/4/import', 'Bring a file in');
    await visit('/jobs/4/revisions', 'Revisions');
    await visit('/book', 'Pinout book');
    await visit('/book?q=injector', 'Pinout book');
    await visit('/book/1?at=T1:15', /T1/);
    await visit('/book/2/loose/P3', 'Loose wires of P3');
    await visit('/book/2/loose/P3/labels', 'Labels for P3');
    await visit('/compare?left=sheet-3&right=sheet-1', 'Compare');
    await visit('/merges', 'Begin a merge');
    await visit('/library?family=round-19', 'Round 19-way');
    await visit('/library?words=same', 'Words that mean the same');
    await visit('/library?family=%2B', 'New family');
    await visit('/limits', 'What a wire reads');
    await visit('/jobs/4/loom', 'Wires');
    await visit('/jobs/4/loom?at=ECU-A&cavity=25', /ECU-A/);
    await visit('/jobs/4/shows?key=running', 'Works now');
    await visit('/jobs/4/shows?key=on&at=ECU-B&cavity=10', /ECU-B:10/);
    await visit('/jobs/4/cable', /to look at/);
    await visit('/jobs/4/sensors', 'Coolant temperature sensor');
    for (const tool of ['fit', 'gauge', 'unknown']) {
      await page.goto(`${shopUrl()}/jobs/4/sensors?of=${tool}`);
      await expect(page.getByRole('region', { name: 'Sensor' })).toBeVisible();
      await clean(page, `sensors, ${tool}`);
    }
    await page.goto(`${shopUrl()}/jobs/4/one-end`);
    await expect(page.getByText('Must read')).toBeVisible();
    await clean(page, 'one-end test');
    await visit('/jobs/2/bench', 'Start the bench run');
    await visit('/jobs/3/bench?step=57', /^Step 57/);
    await visit('/jobs/3/bench?step=72', /^Step 72/);
    await visit('/jobs/3/faults', /^Fault 1/);
    await visit('/jobs/1/faults', /^Fault 1/);
    await visit('/jobs/1/handover', 'Packs');
    await visit('/no/such/page', 'Nothing here');

    await newJob(page, `Drafted, ${colorScheme}`, demoFile('work-launch.json'));
    await page.goto(page.url().replace(/loom$/, 'draft'));
    await page.getByRole('button', { name: 'Begin a draft' }).click();
    await expect(page.getByRole('grid', { name: 'Wires' })).toBeVisible();
    await page.keyboard.press('Tab');
    await clean(page, 'draft, wires');
    await page.getByRole('grid').focus();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.type('EC');
    await expect(page.getByRole('option').first()).toBeVisible();
    await clean(page, 'draft, completing');
    await page.keyboard.press('Escape');
    for (const tab of ['Devices', 'Families', 'Loom']) {
      await page.getByRole('group', { name: 'Tables of the draft' }).getByRole('button', { name: tab }).click();
      await clean(page, `draft, ${tab}`);
    }

    await newJob(page, `Tower fan, ${colorScheme}`, demoFile('frost-fan.json'));
    await startRun(page);
    for (const [key, name] of [
      ['?', 'Keys of this page'],
      ['y', /^Why/],
      ['s', /^Skip step/],
    ] as const) {
      await page.keyboard.press(key);
      await expect(page.getByRole('dialog').getByRole('heading', { name })).toBeVisible();
      if (key === 'y') await expect(page.getByText('At 20 °C')).toBeVisible();
      await clean(page, `sheet ${key}`);
      await page.keyboard.press('Escape');
      await expect(page.getByRole('dialog')).toHaveCount(0);
    }

    await page.goto(`${shopUrl()}/api/packs/1/html`);
    // Every connector of a pack is laid out alike; axe takes minutes over all 45.
    await clean(page, 'pack', ['header', '[aria-labelledby=walk]', '#c1', '#c3', '[aria-labelledby=faults]']);
    await page.context().close();
  });
}
