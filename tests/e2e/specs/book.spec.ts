import { expect, test } from '@playwright/test';
import { shopUrl, signIn } from '../hands.ts';

test('a sheet is brought in from a spreadsheet, confirmed, and found by function', async ({ page }) => {
  await signIn(page, 'mira');
  await page.goto(`${shopUrl()}/book`);
  await page.getByRole('button', { name: 'New sheet' }).click();
  await page.getByLabel('Title').fill('Hillside pump panel');
  await page.getByText('Bring lines in from a file or pasted text').click();
  const file = (text: string, name = 'panel.csv') => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });

  await page.getByLabel('File with lines').setInputFiles(file('pin;function;direction\n1;Pump "relay;out\n2;Level;sideways\n'));
  await expect(page.getByRole('list', { name: 'Problems of the rows' })).toContainText('panel.csv row 2, column 2');
  await page.getByLabel('File with lines').setInputFiles(file('\ufeffconnector;pin;function;direction\r\nQ1;1;Pump priming relay;out\r\nQ1;2;Water temp;in\r\nQ1;3;Priming pump feed;supply\r\n'));
  await expect(page.getByText('3 lines were read.')).toBeVisible();
  await page.getByRole('button', { name: 'Take them into the sheet' }).click();
  const plugs = page.getByRole('grid', { name: 'Plugs' });
  await plugs.getByRole('gridcell').nth(2).click();
  await page.keyboard.type('flat-');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Store the sheet' }).click();

  await expect(page.getByRole('img', { name: /Seen from the wire side/ })).toBeVisible();
  await page.getByRole('checkbox', { name: 'Tick Q1:2' }).check();
  await page.getByLabel('How it was confirmed').selectOption('running');
  await page.getByRole('button', { name: 'I confirm these' }).click();
  await expect(page.getByText('tested on a running engine, Mira Solstad')).toBeVisible();

  await page.goto(`${shopUrl()}/book`);
  await page.getByLabel('Find a function on any sheet').fill('coolant temperature');
  const hits = page.getByRole('region', { name: 'What was found' });
  await expect(hits.getByRole('row', { name: /Water temp Hillside pump panel Q1:2/ })).toContainText('running engine');
  await expect(hits.getByRole('link', { name: 'Tower fan, tower side' })).toBeVisible();
});

test('the second of two people who change a sheet is shown both and chooses', async ({ page, browser }) => {
  await signIn(page, 'mira');
  await page.goto(`${shopUrl()}/book`);
  await page.getByRole('button', { name: 'New sheet' }).click();
  await expect(page.getByLabel('Title')).toHaveValue('New sheet');
  const other = await (await browser.newContext()).newPage();
  await signIn(other, 'tomas');
  await other.goto(page.url());
  await page.getByLabel('Title').fill('Named by Mira');
  await other.getByLabel('Title').fill('Named by Tomas');
  await page.getByRole('button', { name: 'Store the sheet' }).click();
  await expect(page.getByRole('heading', { name: 'Named by Mira' })).toBeVisible();
  await other.getByRole('button', { name: 'Store the sheet' }).click();
  await expect(other.getByText(/Mira Solstad changed this sheet in the meantime/)).toBeVisible();
  await other.getByRole('button', { name: 'Store mine over theirs' }).click();
  await expect(other.getByRole('heading', { name: 'Named by Tomas' })).toBeVisible();
  await other.context().close();
});

test('loose wires are worked down by keyboard and get their labels', async ({ page }) => {
  await signIn(page, 'tomas');
  await page.goto(`${shopUrl()}/book/1/loose/T3`);
  await expect(page.getByText('of 32 cavities identified')).toBeVisible();
  await page.getByLabel('Where the cavity is, in words').fill('second row, fifth from the left');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Cavity B5: row 2, 5th from the left, seen from the wire side.')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Wire in T3:B5' })).toBeVisible();

  await page.getByRole('heading', { name: 'Loose wires of T3' }).click();
  for (let done = 1; done <= 5; done++) {
    await page.keyboard.press('Enter');
    await expect(page.getByText(`${done} of 32 cavities identified`)).toBeVisible();
  }
  await page.keyboard.press('3');
  await expect(page.getByText('6 of 32 cavities identified')).toBeVisible();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Backspace');
  await expect(page.getByText('5 of 32 cavities identified')).toBeVisible();
  await expect(page.getByTestId('keeping')).toHaveText('Saved');
  await page.reload();
  await expect(page.getByText('5 of 32 cavities identified')).toBeVisible();
  await page.getByRole('link', { name: 'Print the temporary labels' }).click();
  await expect(page.getByRole('list', { name: 'Labels' }).getByRole('listitem').first()).toContainText('T3:');
});

test('two sheets are compared, and plugs that fit without being the same are named with the damage', async ({ page }) => {
  await signIn(page, 'mira');
  await page.goto(`${shopUrl()}/compare`);
  await page.getByLabel('Left').selectOption({ label: 'Orchard controller, first type' });
  await page.getByLabel('Right').selectOption({ label: 'Tower fan, tower side' });
  const twins = page.getByRole('region', { name: 'Fits, but is not the same' });
  await expect(twins).toContainText('ECU-A fits where T1 belongs, and is not the same');
  await expect(twins).toContainText('may die');
  await expect(page.getByRole('button', { name: /\d+ moved/ })).toBeVisible();
  await page.getByLabel('Find in the comparison').fill('injector 3');
  await expect(page.getByRole('cell', { name: /Injector 3/ }).first()).toBeVisible();
});

test('a family is made from its rows, and the words for a cavity lead to it', async ({ page }) => {
  await signIn(page, 'ada');
  await page.goto(`${shopUrl()}/library`);
  await page.getByRole('button', { name: 'New family' }).click();
  await page.getByRole('textbox', { name: 'Id' }).fill('made-29');
  await page.getByLabel('Title').fill('Made 29-way');
  await page.getByLabel('Places in each row').fill('10, 9, 10');
  await page.getByLabel('First cavity is at the').selectOption('top-right');
  await page.getByLabel('Large cavities').fill('1 10');
  await expect(page.getByRole('img', { name: 'Wire side' })).toBeVisible();
  await page.getByRole('button', { name: 'Add to the library' }).click();
  await expect(page.getByRole('heading', { name: 'Made 29-way' })).toBeVisible();
  await page.getByLabel('Where the cavity is, in words').fill('row 2, third from the right');
  await page.getByRole('button', { name: 'Find' }).click();
  await expect(page.getByRole('img', { name: /Seen from the wire side, cavity 13 ringed/ })).toBeVisible();
});
