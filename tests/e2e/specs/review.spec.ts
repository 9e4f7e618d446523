import { expect, test } from '@playwright/test';
import { demoFile, newJob, shopUrl, signIn } from '../hands.ts';

test('a customer reads the draft without an account, answers, comments on a plug and says go; the shop sees it come', async ({
  page,
  browser,
}) => {
  test.setTimeout(180_000);
  await signIn(page, 'ada');
  await newJob(page, 'Tower fan 21, V8', demoFile('frost-fan.json'));
  await page.getByRole('link', { name: 'Handover', exact: true }).click();
  await page.getByRole('button', { name: 'Ask the customer something' }).click();
  await page.getByLabel('Question').fill('Where shall the siren’s lead end?');
  await page.getByLabel(/Choices, one a line/).fill('at the mast: 2 m more\nat the box: as drawn');
  await page.getByRole('button', { name: 'Ask it' }).click();
  await expect(page.getByText('No answer yet.')).toBeVisible();
  await page.getByRole('button', { name: 'Make a review link' }).click();
  const link = (await page.getByText(/\/r\/[\w-]{43}/).textContent())?.match(/\/r\/[\w-]{43}/)?.[0] ?? '';

  const garage = await browser.newContext({ viewport: { width: 360, height: 740 } });
  const phone = await garage.newPage();
  await phone.goto(`${shopUrl()}${link}`);
  await expect(phone.getByRole('heading', { level: 1 })).toContainText('Frost fan');
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBe(360);
  const question = phone.locator('form').filter({ hasText: 'Where shall' });
  await question.getByLabel('at the mast: 2 m more').check();
  await question.getByLabel('Your name').fill('Petra Holm');
  await question.getByRole('button', { name: 'Answer' }).click();
  await expect(phone.getByRole('status')).toHaveText('Your answer is kept. Thank you.');
  const comment = phone.locator('form').filter({ hasText: 'What there is to say' });
  await comment.getByRole('combobox').selectOption('PUMP');
  await comment.getByLabel('What there is to say').fill('The tank stands on the left now. <b>Longer?</b>');
  await comment.getByLabel('Your name').fill('Petra Holm');
  await comment.getByRole('button', { name: 'Say it' }).click();
  await expect(phone.getByText('<b>Longer?</b>')).toBeVisible();

  // Without anybody reloading the shop's page.
  await expect(page.getByText('at the mast: 2 m more', { exact: false }).last()).toBeVisible();
  await expect(page.getByText('The tank stands on the left now. <b>Longer?</b>')).toBeVisible();
  await phone.locator('form').filter({ hasText: 'boxed as it is' }).getByLabel('Your name').fill('Petra Holm');
  await phone.getByRole('button', { name: 'It may be boxed as it is' }).click();
  await expect(page.getByText('said go')).toBeVisible();
  await page.getByRole('button', { name: 'Withdraw the review link' }).click();
  await expect(page.getByText('The link is shown this once')).toBeHidden();
  await phone.reload();
  await expect(phone.getByText('This link leads nowhere')).toBeVisible();
  await garage.close();
});

test('a customer finds a pin, follows the guide to a cause and ticks the first start, offline on a phone', async ({
  page,
  browser,
}) => {
  test.setTimeout(180_000);
  await signIn(page, 'ada');
  await page.goto(`${shopUrl()}/jobs/1/handover`);
  const html = await (await page.request.get(`${shopUrl()}/api/packs/1/html`)).text();
  const away = await browser.newContext({ viewport: { width: 360, height: 740 }, offline: true, colorScheme: 'dark' });
  const phone = await away.newPage();
  const wrong: string[] = [];
  phone.on('console', (m) => m.type() === 'error' && wrong.push(m.text()));
  await phone.setContent(html);
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBe(360);
  await phone.getByLabel('Find a pin, wire, colour or function').fill('coolant temp');
  await expect(phone.locator('#found')).toHaveText(/^\d of \d+ pins$/);
  await phone.getByLabel('Find a pin, wire, colour or function').fill('');
  const guide = phone.locator('.guide');
  await guide.getByText('The starter does nothing', { exact: true }).click();
  await expect(guide.locator('details[open] > p').first()).toContainText('Check 1.');
  await guide.locator('details[open] > details > summary').filter({ hasText: /^plug START/ }).click();
  await expect(guide.getByText(/^Found: plug START/)).toBeVisible();
  await phone.getByLabel(/Every fuse is in its holder/).check();
  await expect(phone.getByLabel(/Every fuse is in its holder/)).toBeChecked();
  expect(wrong).toEqual([]);
  await away.close();
});
