import { expect, test, type Locator } from '@playwright/test';
import { clean } from '../axe.ts';
import { ShopServer } from '../server.ts';

const list = `Wire No,From Connector,From Pin,To Connector,To Pin,Color,AWG,Length (cm),Signal
1,ECU,17,INJ1,1,BU/WH,20,145,Injector 1 drive
2,ECU,18,INJ2,1,Red-Black,20,160,Injector 2 drive
3,FUSE,A,INJ1,2,OG,16,90,Injector feed
4,FUSE,B,INJ2,2,OG,16,110,Second injector feed
5,ECU,1,GND,1,BK,14,60,Ground
6,ECU,2,TEMP,1,GN,22,180,Coolant signal
7,ECU,3,TEMP,2,BK,22,75,Coolant ground
8,ECU,20,FUSE,C,RD,16,120,Controller feed
`;

/** Most actions from the first page of a shop without anybody to the first verdict: a field that is filled counts, and so does a click. */
const most = 25;

/** Long: a shop of its own, without the example world. */
test('an empty shop has its first verdict from a spreadsheet by following its pages', async ({ page }) => {
  const shop = await ShopServer.open('hour', { WISELOOM_DEMO: '', WISELOOM_CHROMIUM: '/nonexistent' });
  let actions = 0;
  const press = async (what: Locator) => {
    actions++;
    await what.click();
  };
  const fill = async (label: string, text: string) => {
    actions++;
    await page.getByLabel(label).fill(text);
  };
  const button = (name: string) => page.getByRole('button', { name, exact: true });
  const hour = page.getByRole('region', { name: 'The first hour' });
  const ticked = (line: string) => expect(hour.getByRole('listitem').filter({ hasText: line })).toContainText(', done');
  try {
    await page.goto(shop.url);
    await fill('Code from the terminal', /enter this code: ([0-9A-F-]+)/.exec(shop.said)?.[1] ?? '');
    await fill('Your name', 'Edda Rowan');
    await fill('Sign-in name', 'edda');
    await fill('New password', 'a-loom-for-the-orchard');
    await press(button('Make the first lead'));

    await expect(hour.getByRole('listitem')).toHaveCount(5);
    await clean(page, 'the first hour');
    await press(hour.getByRole('link', { name: 'Say which meter you have' }));
    await press(button('Enter a meter'));
    await fill('Name', 'Blue hand meter');
    actions++;
    await page.getByLabel('What it can tell').selectOption('hand-two-wire');
    await press(page.getByRole('form', { name: 'Enter a meter' }).getByRole('button').first());
    await expect(page.getByText('Blue hand meter').first()).toBeVisible();

    await press(page.getByRole('link', { name: 'Jobs', exact: true }));
    await ticked('Say which meter you have');
    await press(hour.getByRole('link', { name: 'Bring in your first loom' }));
    await fill('Customer', 'Hollow Lane Orchards');
    await fill('Machine', 'Pump cart');
    await press(button('Make the job'));
    actions++;
    await page.getByLabel('Loom file').setInputFiles({ name: 'pump cart.csv', mimeType: 'text/csv', buffer: Buffer.from(list) });
    await expect(page.getByRole('status').getByText('6 connectors, 8 wires, 8 circuits.')).toBeVisible();
    await expect(page.getByRole('list', { name: 'Places to look at' })).toHaveCount(0);
    await press(button('Take it as the loom'));
    await expect(page.getByRole('cell', { name: '1450 mm' })).toBeVisible();
    await press(page.getByRole('link', { name: 'Bench', exact: true }));
    await press(button('Make the plan and start'));
    await expect(page.getByRole('heading', { name: /^Step 1 of/ })).toBeVisible();
    actions += 2;
    await page.getByLabel('Reading').fill('OL');
    await page.keyboard.press('Enter');
    await expect(page.getByTestId('verdict')).toContainText('Pass');
    await expect(page.getByTestId('verdict')).toContainText('Saved');
    expect(actions).toBeLessThanOrEqual(most);

    await page.getByRole('link', { name: 'Wise Loom' }).click();
    await ticked('Measure it');
    await page.getByRole('button', { name: 'Put this list away' }).click();
    await expect(hour).toHaveCount(0);
  } finally {
    await shop.close();
  }
});
