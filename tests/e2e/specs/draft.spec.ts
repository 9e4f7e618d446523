import { readFileSync } from 'node:fs';
import { Client } from '../client.ts';
import { expect, test, type Page } from '@playwright/test';
import { clean } from '../axe.ts';
import { demoFile, newJob, paste, shopUrl, signIn, tabTo } from '../hands.ts';

const sensors = Array.from({ length: 10 }, (_, i) => `SEN${i + 1}`);
const injectors = Array.from({ length: 5 }, (_, i) => `INJ${i + 1}`);
const colours = ['BU/WH', 'GN', 'YE/RD', 'BN', 'VT/GY'];

/** What a person copies from a spreadsheet: the plugs with their families, and forty wires. */
const plugRows = [
  'Connector\tTitle\tFamily\tBranch\tAt (mm)',
  'P1\tController\tslab-60w\ttrunk\t0',
  ...sensors.map((s, i) => `${s}\tSensor ${i + 1}\tseal-3\ttrunk\t${400 + i * 100}`),
  ...injectors.map((s, i) => `${s}\tInjector ${i + 1}\tseal-2\ttrunk\t${500 + i * 150}`),
].join('\n');

function wireRows() {
  let cavity = 0;
  const wire = (to: string, circuit: string) =>
    `${++cavity}\tP1:${cavity}\t${to}\t${colours[cavity % colours.length] ?? ''}\t0.5\t${800 + cavity * 10}\t${circuit}`;
  const rows = [
    ...sensors.flatMap((s, i) => [1, 2, 3].map((pin) => wire(`${s}:${pin}`, `Sensor ${i + 1} ${['supply', 'ground', 'signal'][pin - 1] ?? ''}`))),
    ...injectors.flatMap((s, i) => [1, 2].map((pin) => wire(`${s}:${pin}`, `Injector ${i + 1} ${['feed', 'drive'][pin - 1] ?? ''}`))),
  ];
  return ['Wire\tFrom\tTo\tColour\tmm²\tLength (mm)\tCircuit', ...rows.map((r) => `W${r}`)].join('\n');
}

const keeping = (page: Page) => page.getByTestId('keeping');

/** A new job with an empty draft, all by keyboard. */
async function emptyDraft(page: Page, machine: string) {
  await page.goto(`${shopUrl()}/jobs/new`);
  await tabTo(page, /^Customer/);
  await page.keyboard.type('Hollow Lane Orchards');
  await tabTo(page, /^Machine/);
  await page.keyboard.type(machine);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'New loom' })).toBeVisible();
  await tabTo(page, 'Enter it by hand');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Enter the loom' })).toBeVisible();
  await tabTo(page, 'Begin with an empty loom');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('grid', { name: 'Wires' })).toBeVisible();
}

async function openTable(page: Page, name: string) {
  await page.keyboard.press('Shift+Tab');
  await tabTo(page, name, 200);
  await page.keyboard.press('Enter');
  await tabTo(page, name, 200);
  await expect(page.getByRole('grid', { name })).toBeFocused();
}

test('a loom of forty wires is entered from pasted rows and families, by keyboard only, and released', async ({ page }) => {
  const began = Date.now();
  await signIn(page, 'mira');
  await emptyDraft(page, 'Tower fan 11');

  await openTable(page, 'Branches');
  await page.keyboard.type('trunk');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.type('2000');
  await page.keyboard.press('Enter');
  await openTable(page, 'Connectors');
  await paste(page, plugRows);
  await expect(page.getByText('16 rows pasted.')).toBeVisible();
  await expect(page.getByRole('button', { name: /^SEN10,/ }), 'the stem follows at once').toBeVisible();
  await openTable(page, 'Wires');
  await paste(page, wireRows());
  await expect(page.getByText('40 rows pasted.')).toBeVisible();
  await expect(keeping(page)).toHaveText('Saved');
  await expect(page.getByText(/No problem/)).toBeVisible();

  // One wire is wrong; it is marked while it is typed, kept all the same, and put right by completing from what there is.
  await page.keyboard.press('Control+Home');
  for (let i = 0; i < 2; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.type('SEN1:9');
  await expect(page.getByText('1 problem')).toBeVisible();
  await expect(page.getByText(/SEN1 has no cavity '9'/).first()).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText(/No problem/)).toBeVisible();
  await page.keyboard.type('sen1:');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(keeping(page)).toHaveText('Saved');
  await expect(page.getByRole('gridcell', { name: 'SEN1:1' })).toBeVisible();
  await expect(page.getByRole('figure').first()).toContainText('P1');

  await tabTo(page, 'Release', 200);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Revisions' })).toBeVisible();
  await expect(page.getByText('released', { exact: true })).toBeVisible();
  test.info().annotations.push({ type: 'entered in', description: `${Math.round((Date.now() - began) / 1000)} s` });

  await page.goto(page.url().replace('revisions', 'loom'));
  await expect(page.getByRole('row')).toHaveCount(41);
});

test('filling down, undoing, removing and moving a tag all end in one table', async ({ page }) => {
  await signIn(page, 'mira');
  await page.goto(`${shopUrl()}/jobs/2/draft`);
  await page.getByRole('button', { name: 'Begin a draft' }).click();
  const grid = page.getByRole('grid', { name: 'Wires' });
  await expect(grid).toBeVisible();
  const cell = (row: number, column: number) => grid.getByRole('row').nth(row).getByRole('gridcell').nth(column);
  const was = await cell(2, 6).textContent();

  await cell(1, 6).click();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+d');
  await expect(cell(4, 6)).toHaveText((await cell(1, 6).textContent()) ?? '');
  await page.keyboard.press('Control+z');
  await expect(cell(2, 6)).toHaveText(was ?? '');
  const rows = Number(await grid.getAttribute('aria-rowcount'));
  await page.keyboard.press('Control+Delete');
  await expect(grid).toHaveAttribute('aria-rowcount', String(rows - 4));
  await page.keyboard.press('Control+z');
  await expect(grid).toHaveAttribute('aria-rowcount', String(rows));

  // By the stem, 100 mm; the table of branches and connectors says the same millimetres.
  await page.getByRole('button', { name: 'Branches' }).click();
  const branches = page.getByRole('grid', { name: 'Branches' });
  const before = await branches.textContent();
  const tag = page.getByRole('button', { name: /^INJ1,/ });
  await tag.focus();
  for (let i = 0; i < 10; i++) await page.keyboard.press('Alt+ArrowRight');
  await expect(branches).not.toHaveText(before ?? '');
  await expect(keeping(page)).toHaveText('Saved');
  const box = (await tag.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 60, box.y + box.height / 2, { steps: 5 });
  await expect(tag).toContainText('mm');
  await page.mouse.up();
  await expect(keeping(page)).toHaveText('Saved');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(branches).toHaveText(before ?? '');
  await expect(keeping(page)).toHaveText('Saved');

  await page.getByRole('button', { name: 'Devices' }).click();
  await page.getByLabel('Attach to').selectOption('INJ1');
  await page.getByLabel('Device', { exact: true }).selectOption('injector-12');
  await page.getByRole('button', { name: 'Attach' }).click();
  await page.getByRole('grid', { name: 'Devices' }).press('Control+End');
  await expect(page.getByRole('gridcell', { name: '1=INJ1:1 2=INJ1:2' }).last()).toBeVisible();
  await expect(keeping(page)).toHaveText('Saved');
  await page.getByRole('button', { name: 'Put away' }).click();
  await expect(page.getByRole('button', { name: 'Take out the draft that was put away' })).toBeVisible();
});

test('two people change one draft: the second sees both changes and chooses, and nothing is lost', async ({ page, browser }) => {
  await signIn(page, 'mira');
  await emptyDraft(page, 'Tower fan 12');
  await page.getByRole('grid', { name: 'Wires' }).focus();
  await paste(page, 'Wire\tCircuit\tNote\nW1\tone\t\nW2\ttwo\t');
  await expect(keeping(page)).toHaveText('Saved');
  const other = await (await browser.newContext()).newPage();
  // Tomas hears of nothing while he types, as on a poor line: else his page would follow first, and there would be nothing to choose.
  await other.route('**/api/jobs/*/events', (route) => route.abort());
  await signIn(other, 'tomas');
  await other.goto(page.url());
  await expect(other.getByRole('gridcell', { name: 'one', exact: true })).toBeVisible();
  const write = async (who: Page, cell: string, text: string) => {
    await who.getByRole('gridcell', { name: cell, exact: true }).click();
    await who.keyboard.type(text);
    await who.keyboard.press('Enter');
  };
  const kept = page.waitForResponse((r) => r.request().method() === 'PATCH' && r.ok());
  await write(page, 'one', 'first by Mira');
  await kept;
  await write(other, 'two', 'second by Tomas');

  const dialog = other.getByRole('dialog');
  await expect(dialog.getByRole('heading', { name: 'Somebody else changed this draft' })).toBeVisible();
  await expect(dialog).toContainText('What Mira Solstad changed');
  await expect(dialog).toContainText('first by Mira');
  await expect(dialog).toContainText('second by Tomas');
  await clean(other, 'two people');
  await dialog.getByRole('button', { name: 'Keep both' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(keeping(other)).toHaveText('Saved');
  await expect(other.getByRole('gridcell', { name: 'first by Mira' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('gridcell', { name: 'second by Tomas' })).toBeVisible();
  await other.context().close();
});

test('a revision that comes in beside an open draft is told before the draft is released', async ({ page }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Tower fan 21', demoFile('frost-fan.json'));
  const job = /jobs\/(\d+)/.exec(page.url())?.[1] ?? '';
  await page.goto(`${shopUrl()}/jobs/${job}/draft`);
  await page.getByRole('button', { name: 'Begin a draft' }).click();
  await expect(page.getByRole('grid', { name: 'Wires' })).toBeVisible();
  const tomas = await Client.signIn(shopUrl(), 'tomas');
  const { revisionId } = await tomas.get<{ revisionId: number }>(`/api/jobs/${job}`);
  await tomas.post(`/api/jobs/${job}/loom?after=${revisionId}&name=X`, JSON.parse(readFileSync(demoFile('frost-fan.json'), 'utf8')));
  await expect(page.getByText('Revision X came in while this draft was open.')).toBeVisible();
  await page.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(page.getByText('Revision X of this job came in since you looked')).toBeVisible();
  await page.getByRole('button', { name: 'Go on without them' }).click();
  await page.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(page).toHaveURL(/\/revisions$/);
});
