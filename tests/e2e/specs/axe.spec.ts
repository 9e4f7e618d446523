import { expect, test as base, type Page } from '@playwright/test';
import { browser as settings } from '../browser.ts';
import { jobPages, shopPages } from '../pages.ts';
import { clean } from '../axe.ts';
import { demoFile, newJob, shopUrl, startRun } from '../hands.ts';

/** Pages in their states: an address, and the heading that says that it is there. */
const states: [path: string, ready: string | RegExp][] = [
  ['/', 'Jobs'],
  ['/jobs/new', 'New job'],
  ['/jobs/4/edit', 'Job 4'],
  ['/jobs/4/import', 'Bring a file in'],
  ['/jobs/4/revisions', 'Revisions'],
  ['/book', 'Pinout book'],
  ['/book?q=injector', 'Pinout book'],
  ['/book/1?at=T1:15', /T1/],
  ['/book/2/loose/P3', 'Loose wires of P3'],
  ['/book/2/loose/P3/labels', 'Labels for P3'],
  ['/compare?left=sheet-3&right=sheet-1', 'Compare'],
  ['/merges', 'Begin a merge'],
  ['/library?family=round-19', 'Round 19-way'],
  ['/library?words=same', 'Words that mean the same'],
  ['/library?family=%2B', 'New family'],
  ['/faults', 'What comes back'],
  ['/faults?words=nothing&kind=swap', 'All faults'],
  ['/instruments', 'Hand meter, two leads'],
  ['/limits', 'What a wire reads'],
  ['/me', 'Your password'],
  ['/people', 'Somebody new'],
  ['/people/log', 'Who came in'],
  ['/jobs/4/loom', 'Wires'],
  ['/jobs/4/loom?at=ECU-A&cavity=25', /ECU-A/],
  ['/jobs/4/shows?key=running', 'Works now'],
  ['/jobs/4/shows?key=on&at=ECU-B&cavity=10', /ECU-B:10/],
  ['/jobs/4/cable', /to look at/],
  ['/jobs/4/sensors', 'Coolant temperature sensor'],
  ['/jobs/4/sensors?at=COIL1', /Tower fan 5/],
  ['/jobs/4/sensors?of=fit', /Tower fan 5/],
  ['/jobs/4/sensors?of=gauge', /Tower fan 5/],
  ['/jobs/4/sensors?of=unknown', /Tower fan 5/],
  ['/jobs/4/one-end', /Tower fan 5/],
  ['/jobs/4/draft', /Tower fan 5/],
  ['/jobs/2/bench', 'Start the bench run'],
  ['/jobs/3/bench?another', 'Start the bench run'],
  ['/jobs/3/bench?step=57', /^Step 57/],
  ['/jobs/3/bench?step=72', /^Step 72/],
  ['/jobs/3/matrix', 'Patterns'],
  ['/jobs/3/record', 'The run as files'],
  ['/jobs/3/faults', /^Fault 1/],
  ['/jobs/1/faults', /^Fault 1/],
  ['/jobs/1/power-up', /^5 Controller talks/],
  ['/jobs/1/power-up?check=limited%20amps', /^2 Limited supply/],
  ['/jobs/4/power-up', /Tower fan 5/],
  ['/jobs/1/handover', 'Packs'],
  ['/no/such/page', 'Nothing here'],
];

/** Pages that need something made first; their tests stand below. */
const elsewhere = ['/merges/:id'];

/** One page of the lead's for all addresses, as somebody goes through them: its code is read once. */
const test = base.extend<object, { walked: Page }>({
  walked: [
    async ({ browser }, use) => {
      const context = await browser.newContext({ storageState: 'results/ada.json', viewport: settings?.viewport ?? null });
      await use(await context.newPage());
      await context.close();
    },
    { scope: 'worker' },
  ],
});

test.describe.configure({ mode: 'parallel' });

test('every page is looked at', () => {
  const at = (path: string) => new RegExp(`^${path.replaceAll(/:\w+/g, '[^/?]+')}(\\?.*)?$`);
  const all = [...shopPages.map((p) => p.path), ...jobPages.map((p) => `/jobs/:id/${p.path}`)];
  expect(all.filter((path) => !elsewhere.includes(path) && !states.some(([s]) => at(path).test(s)))).toEqual([]);
});

test.use({ storageState: 'results/ada.json' });

/** Every fifth for each change, all before a release. */
const looked = states.filter((_, i) => process.env.WISELOOM_DEEP === '1' || i % 5 === 0);

for (const [path, ready] of looked)
  test(`axe finds nothing: ${path}`, async ({ walked: page }) => {
    await page.goto(shopUrl() + path);
    await expect(page.getByRole('heading', { name: ready }).first()).toBeVisible();
    await expect(page.getByText(/^Fetching /)).toHaveCount(0);
    await clean(page, path);
  });

test('axe finds nothing: sign-in', async ({ browser }) => {
  const page = await (await browser.newContext({ storageState: { cookies: [], origins: [] } })).newPage();
  await page.goto(shopUrl());
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await clean(page, 'sign-in');
  await page.context().close();
});

/** Long: several tables of a large draft. */
test('axe finds nothing: a draft, its tables, completing, devices, families', { tag: '@deep' }, async ({ page }) => {
  await newJob(page, 'Drafted', demoFile('work-launch.json'));
  await page.goto(page.url().replace(/loom$/, 'draft'));
  await page.getByRole('button', { name: 'Begin a draft' }).click();
  await expect(page.getByRole('grid', { name: 'Wires' })).toBeVisible();
  await page.keyboard.press('Tab');
  await clean(page, 'draft, wires');
  await page.getByRole('grid').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.type('EC');
  await expect(page.getByRole('option').first()).toBeVisible();
  await clean(page, 'draft, completing', { but: ['svg'] });
  await page.keyboard.press('Escape');
  for (const tab of ['Devices', 'Families', 'Loom']) {
    await page.getByRole('group', { name: 'Tables of the draft' }).getByRole('button', { name: tab }).click();
    await clean(page, `draft, ${tab}`, { but: ['svg'] });
  }
});

/** Some dialogs for each change, all before a release. */
test('axe finds nothing: the bench, its dialogs, and what waits in the browser', async ({ page }) => {
  await newJob(page, 'Tower fan 9', demoFile('frost-fan.json'));
  await startRun(page);
  const dialogs: [key: string, name: string | RegExp][] = [
    ['?', 'Keys of this page'],
    ['y', /^Why/],
    ['s', /^Skip step/],
    ['b', 'Take readings without a key'],
    ['n', 'Not at hand'],
    ['c', 'Is the meter right?'],
    ['g', 'Share the plan'],
    ['w', /^Move the loom/],
    ['p', 'Go to a step'],
  ];
  for (const [key, name] of dialogs.filter((_, i) => process.env.WISELOOM_DEEP === '1' || i % 4 === 1)) {
    await page.keyboard.press(key);
    await expect(page.getByRole('dialog').getByRole('heading', { name })).toBeVisible();
    if (key === 'y') await expect(page.getByText('At 20 °C')).toBeVisible();
    await clean(page, `sheet ${key}`, { only: ['[role=dialog]'] });
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
  }
  await leftBehind(page);
  await clean(page, 'readings of another person');
});

test('axe finds nothing: a pack', async ({ page }) => {
  await page.goto(`${shopUrl()}/api/packs/1/html`);
  // Every connector of a pack is laid out alike; axe takes minutes over all 45.
  await clean(page, 'pack', { only: ['header', '[aria-labelledby=walk]', '#c1', '#c3', '[aria-labelledby=faults]'] });
});

/** A reading that somebody else took in this browser and that is not at the server. */
export async function leftBehind(page: Page) {
  await page.evaluate(
    () =>
      new Promise<void>((done, failed) => {
        const open = indexedDB.open('wise-loom');
        open.onerror = () => failed(new Error('The browser has no database.'));
        open.onsuccess = () => {
          const tx = open.result.transaction('readings', 'readwrite');
          tx.objectStore('readings').put({
            key: '01900000-0000-7000-8000-000000000001',
            jobId: 1,
            runId: 1,
            person: { id: 'someone-else', name: 'Tomas Wren' },
            reading: { key: '01900000-0000-7000-8000-000000000001', step: 1, ohms: 0.05, volts: null, overRange: false, fromMeter: false, takenAt: new Date().toISOString(), seen: 0 },
          });
          tx.oncomplete = () => {
            open.result.close();
            done();
          };
        };
      }),
  );
  await page.reload();
  await expect(page.getByText('1 reading of Tomas Wren waits in this browser.')).toBeVisible();
}
