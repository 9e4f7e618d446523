import { expect, test } from '@playwright/test';
import { ShopServer } from '../server.ts';
import { signInByForm } from '../hands.ts';
const list = `Wire No,From Connector,From Pin,To Connector,To Pin,Color,AWG,Length (cm),Signal
1,ECU,17,INJ1,1,BU/WH,20,145,Injector 1 drive
2,ECU,18,INJ2,1,Red-Black,20,160,Injector 2 drive
3,FUSE,A,INJ1,2,OG,16,90,Injector feed
4,FUSE,B,INJ2,2,OG,16,110,Second injector feed
5,ECU,1,GND,1,mauvish,14,60,Ground
6,ECU,2,TEMP,1,GN,22,about two,Coolant signal
7,ECU,3,TEMP,2,BK,22,75,Coolant ground
8,ECU,20,FUSE,C,RD,16,120,Controller feed
Total,,,,,,,810,
`;
test('look', async ({ page }) => {
  const shop = await ShopServer.open('zz');
  try {
    await page.setViewportSize({ width: 1280, height: 800 });
    await signInByForm(page, 'mira', shop.url);
    await page.goto(`${shop.url}/jobs/new`);
    await page.getByLabel('Customer').fill('Hollow Lane Orchards');
    await page.getByLabel('Machine').fill('Pump cart');
    await page.getByRole('button', { name: 'Make the job' }).click();
    await expect(page.getByRole('button', { name: 'Choose a file' })).toBeVisible();
    await page.screenshot({ path: '/tmp/w/z1.png' });
    await page.getByRole('button', { name: 'Straight cable' }).click();
    await page.screenshot({ path: '/tmp/w/z2.png' });
    await page.getByRole('button', { name: 'Paste rows' }).click();
    await page.getByLabel('Rows').fill(list);
    await page.getByRole('button', { name: 'Read these rows' }).click();
    await expect(page.getByText('6 connectors, 8 wires').first()).toBeVisible();
    await page.screenshot({ path: '/tmp/w/z3.png' });
    await page.getByRole('button', { name: 'look at its face of ECU' }).click();
    await expect(page.getByRole('button', { name: 'The plug looks like this' })).toBeEnabled();
    await page.screenshot({ path: '/tmp/w/z4.png' });
    await page.getByRole('button', { name: 'The plug looks like this' }).click();
    await page.getByLabel(/Which colour is/).selectOption('VT');
    await expect(page.getByLabel(/Which colour is/)).toHaveCount(0);
    await page.setViewportSize({ width: 1024, height: 768 });
    await page.screenshot({ path: '/tmp/w/z5.png', fullPage: true });
    await page.setViewportSize({ width: 390, height: 844 });
    await page.screenshot({ path: '/tmp/w/z6.png' });
  } finally {
    await shop.close();
  }
});
