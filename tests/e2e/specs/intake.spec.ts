import { expect, test } from '@playwright/test';
import { ShopServer } from '../server.ts';
import { clean } from '../axe.ts';
import { measureHere, signInByForm } from '../hands.ts';

const list = `Wire No,From Connector,From Pin,To Connector,To Pin,Color,AWG,Length (cm),Signal
1,ECU,17,INJ1,1,BU/WH,20,145,Injector 1 drive
2,ECU,18,INJ2,1,Red-Black,20,160,Injector 2 drive
3,FUSE,A,INJ1,2,OG,16,90,Injector feed
4,FUSE,B,INJ2,2,OG,16,110,Second injector feed
5,ECU,1,GND,1,mauvish,14,60,Ground
6,ECU,2,TEMP,1,GN,22,about two,Coolant signal
7,ECU,3,TEMP,2,BK,22,75,Coolant ground
8,ECU,20,FUSE,C,RD,16,120,Controller feed
`;

test('a stranger’s list becomes a measured loom, its columns said by the page and corrected', async ({ page }) => {
  const shop = await ShopServer.open('intake');
  try {
    await signInByForm(page, 'mira', shop.url);
    await page.goto(`${shop.url}/jobs/new`);
    await page.getByLabel('Customer').fill('Hollow Lane Orchards');
    await page.getByLabel('Machine').fill('Pump cart');
    await page.getByRole('button', { name: 'Make the job' }).click();
    await page.getByLabel('Loom file').setInputFiles({ name: 'pump cart.csv', mimeType: 'text/csv', buffer: Buffer.from(list) });

    // What it is, what comes out, and the one cell that nobody understands, in its place.
    await expect(page.getByRole('status').getByText('6 connectors, 8 wires, 8 circuits.')).toBeVisible();
    await expect(page.getByLabel('Color holds')).toHaveValue('colour');
    await expect(page.getByRole('cell', { name: 'mauvish' })).toHaveAttribute('title', /is no colour that is known here/);
    await expect(page.getByRole('list', { name: 'Places to look at' }).getByRole('listitem')).toHaveCount(2);

    await clean(page, 'a table brought in');

    // A word for a colour is asked about once; a cell is corrected in place; a row is left out and brought back.
    await page.getByLabel('Which colour is ‘mauvish’?').selectOption('VT');
    await expect(page.getByRole('list', { name: 'Places to look at' }).getByRole('listitem')).toHaveCount(1);
    await page.getByRole('button', { name: 'about two' }).press('Enter');
    await page.getByLabel('Length (cm) in row 7 should read').fill('180');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('list', { name: 'Places to look at' })).toHaveCount(0);
    await page.getByRole('button', { name: 'Leave row 6 out' }).click();
    await expect(page.getByText('5 connectors, 7 wires, 7 circuits.')).toBeVisible();
    await page.getByText('1 row left out').click();
    await page.getByRole('button', { name: 'Bring row 6 back' }).click();
    await expect(page.getByText('6 connectors, 8 wires, 8 circuits.')).toBeVisible();
    await page.getByRole('button', { name: 'look at its face of ECU' }).click();
    await page.getByRole('button', { name: 'The plug looks like this' }).click();
    await expect(page.getByRole('button', { name: 'face confirmed of ECU' })).toBeVisible();

    // By keyboard: the unit of a column, and a column that is left out.
    await page.getByLabel('Unit of Length (cm)').selectOption('in');
    await page.getByLabel('AWG holds').focus();
    await page.keyboard.type('nothing');
    await page.keyboard.press('Tab');
    await expect(page.getByText('No section at 8 of 8 wires')).toBeVisible();
    await expect(page.getByLabel('Unit of Length (cm)')).toHaveValue('in');

    await page.getByRole('button', { name: 'Take it as the loom' }).click();
    await expect(page.getByRole('cell', { name: '3683 mm' })).toBeVisible();
    await page.getByRole('link', { name: 'Bench', exact: true }).click();
    await page.getByLabel('Meter in hand').selectOption({ index: 1 });
    await expect(page.getByText(/Faces that nobody has looked at yet: 4/)).toBeVisible();
    await page.getByRole('button', { name: 'Make the plan and start' }).click();
    await expect(page.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();
    await expect(page.getByText('face not confirmed').first()).toBeVisible();
    expect(await measureHere(page)).toContain('Saved');

    // The next file with these headings is read as this one was said to be.
    await page.goto(`${shop.url}/jobs/new`);
    await page.getByLabel('Customer').fill('Hollow Lane Orchards');
    await page.getByLabel('Machine').fill('Second cart');
    await page.getByRole('button', { name: 'Make the job' }).click();
    await page.getByLabel('Rows').fill(list);
    await page.getByRole('button', { name: 'Read these rows' }).click();
    await expect(page.getByText('Read as the shop reads pump cart.')).toBeVisible();
    await expect(page.getByLabel('Unit of Length (cm)')).toHaveValue('in');
    await expect(page.getByLabel(/Which colour is/)).toHaveCount(0);
    await page.getByText('What the shop knows of papers').click();
    await page.getByRole('list', { name: 'Shapes of table' }).getByRole('button', { name: 'Forget' }).click();
    await expect(page.getByLabel('Unit of Length (cm)')).toHaveValue('cm');

    // Without a file: a cable by three fields, and a connector that a draft's wire names.
    await page.getByRole('button', { name: 'Begin again' }).click();
    await page.getByRole('button', { name: 'Straight cable' }).click();
    await page.getByLabel('Pins of each plug').fill('4');
    await page.getByLabel('Joined').selectOption('rolled');
    await page.getByRole('button', { name: 'Show the cable' }).click();
    await page.getByRole('button', { name: 'Take it into a draft' }).click();
    const cell = page.getByRole('gridcell').filter({ hasText: /^B:4$/ });
    await cell.dblclick();
    await page.keyboard.press('Control+A');
    await page.keyboard.type('C:1');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Make C with pin 1' }).click();
    await expect(page.getByText('No problem').or(page.getByText('Nothing wrong'))).toBeVisible();
  } finally {
    await shop.close();
  }
});
