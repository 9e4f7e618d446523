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
6,ECU,2,TEMP,1,GN,22,180,Coolant signal
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
    await expect(page.getByRole('list', { name: 'Places to look at' }).getByRole('listitem')).toHaveCount(1);

    await clean(page, 'a table brought in');

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
    await expect(page.getByText(/Faces that nobody has looked at yet: 5/)).toBeVisible();
    await page.getByRole('button', { name: 'Make the plan and start' }).click();
    await expect(page.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();
    await expect(page.getByText('face not confirmed').first()).toBeVisible();
    expect(await measureHere(page)).toContain('Saved');
  } finally {
    await shop.close();
  }
});
