import { expect, test } from '@playwright/test';
import { demoFile, newJob, shopUrl, signIn } from '../hands.ts';

test('key on, an idle injector: both terminals read supply, and the page says that this is right', async ({ page }) => {
  await signIn(page, 'mira');
  await page.goto(`${shopUrl()}/jobs/4/loom`);
  await page.getByRole('link', { name: 'What it shows' }).click();
  const key = page.getByRole('radiogroup', { name: 'Key position' });
  await expect(key.getByRole('radio', { name: 'on', exact: true })).toBeChecked();
  const functions = page.getByRole('region', { name: 'Functions' });
  await expect(functions).toContainText('Injector 3 fires');

  await page.getByRole('button', { name: /^INJ3, Injector 3, 2 supply/ }).click();
  await page.getByRole('button', { name: '2', exact: true }).click();
  const explanation = page.getByRole('region', { name: 'What INJ3:2 shows' });
  await expect(explanation).toContainText('Reads supply through Injector 3');
  await expect(explanation).toContainText('switches the ground side here (‘Injector 3’) and does not drive it now: to read supply is right');
  await expect(explanation.getByText('glows dim')).toBeVisible();

  // Driven, the terminal goes down and the wire carries an ampere; the address can be sent to a colleague.
  await page.getByText('Drive an output').click();
  await page.getByRole('checkbox', { name: 'Injector 3' }).check();
  await expect(explanation).toContainText('Engine controller drives ‘Injector 3’ here.');
  await page.keyboard.press('Escape');
  await page.reload();
  await expect(explanation).toContainText('Engine controller drives ‘Injector 3’ here.');
  await expect(page.getByRole('row', { name: /^W3 1.02 A/ })).toBeVisible();

  await key.getByRole('radio', { name: 'off' }).click();
  await expect(explanation).not.toContainText('drives');
  await page.goBack();
  await expect(key.getByRole('radio', { name: 'on', exact: true })).toBeChecked();
});

test('one-end test, cable and sensors of a loom', async ({ page }) => {
  await signIn(page, 'mira');
  await newJob(page, 'Tower fan, electrics', demoFile('frost-fan.json'));
  await page.getByRole('link', { name: 'One-end test' }).click();
  const coolant = page.getByRole('row', { name: /Coolant temperature sensor/ });
  await expect(coolant).toContainText('ECU-B:10');
  await page.getByLabel('Meter').selectOption('bench');
  await expect(page.getByText('Nothing leads back to this plug')).toBeVisible();

  await page.getByRole('link', { name: 'Cable and fuses' }).click();
  await expect(page.getByRole('region', { name: 'To look at', exact: true })).toContainText('Panel fuse (15 A) is larger than');
  await expect(page.getByRole('region', { name: 'Wires at their worst' }).getByRole('row', { name: /^W98 Fuel pump feed/ })).toContainText('running');

  await page.getByRole('link', { name: 'Sensors' }).click();
  await page.getByRole('button', { name: /^Coolant temperature sensor/ }).click();
  await page.getByLabel('Reading, Ω').fill('1200');
  await page.getByRole('button', { name: 'What temperature?' }).click();
  await expect(page.getByText('1.20 kΩ is 39.3 °C.')).toBeVisible();

  await page.getByRole('button', { name: 'Fit a curve' }).click();
  for (const [row, [celsius, ohms]] of ([['0', '6000'], ['20', '2600'], ['80', '2700']] as const).entries()) {
    await page.getByLabel(`Measured, °C, row ${row + 1}`).fill(celsius);
    await page.getByLabel(`Measured, Ω, row ${row + 1}`).fill(ohms);
  }
  await page.getByRole('button', { name: 'Fit the curve' }).click();
  await expect(page.getByText('an NTC falls as it warms')).toBeVisible();
  await page.getByLabel('Measured, Ω, row 3').fill('320');
  await page.getByRole('button', { name: 'Fit the curve' }).click();
  await expect(page.getByRole('img', { name: /^Curve from/ })).toBeVisible();

  await page.getByRole('button', { name: 'Sender and gauge' }).click();
  for (const [row, ohms] of ['180', '80', '3'].entries()) await page.getByLabel(`Gauge, Ω, row ${row + 1}`).fill(ohms);
  await page.getByRole('button', { name: 'Do they belong together?' }).click();
  await expect(page.getByText('full would read empty')).toBeVisible();

  await page.getByRole('button', { name: 'Unknown sensor' }).click();
  await page.getByLabel('Ohms, red 1, black 2').fill('2400');
  await page.getByLabel('Ohms, red 2, black 1').fill('2400');
  await page.getByRole('button', { name: 'What may it be?' }).click();
  await expect(page.getByRole('list', { name: 'What it may be' })).toContainText('An NTC');
});
