import { expect, test, type Browser, type Page } from '@playwright/test';
import { clean } from '../axe.ts';
import { Client } from '../client.ts';
import { shopUrl, signIn } from '../hands.ts';
import { ShopServer } from '../server.ts';

const password = 'row-two-fifth-from-left';

/** A browser of somebody else's. */
const another = async (browser: Browser): Promise<Page> => await (await browser.newContext()).newPage();

async function enter(page: Page, name: string, secret = password) {
  const form = page.getByRole('form', { name: 'Sign in' });
  await form.getByLabel('Name').fill(name);
  await form.getByLabel('Password').fill(secret);
  await form.getByRole('button', { name: 'Sign in' }).click();
}

/** Long: several people come in, each in a browser of their own. */
test('a lead gives access, its owner comes in through the link, and a lead takes it away', async ({ page, browser }) => {
  await signIn(page, 'ada');
  await page.getByRole('link', { name: /Ada Quill|You/ }).click();
  await page.getByRole('link', { name: 'People', exact: true }).click();
  const form = page.getByRole('form', { name: 'Somebody new' });
  await form.getByLabel('Full name').fill('Nils Barrow');
  await form.getByLabel('Sign-in name').fill('Nils B');
  await form.getByLabel('Role').selectOption('look');
  await form.getByRole('button', { name: 'Make the account' }).click();
  await expect(form.getByText(/small letters, digits, dots/)).toBeVisible();
  await form.getByLabel('Sign-in name').fill('nils');
  await form.getByRole('button', { name: 'Make the account' }).click();
  const link = (await page.getByTestId('link').textContent()) ?? '';
  await clean(page, 'people, with a link');

  const nils = await another(browser);
  await nils.goto(link);
  await expect(nils.getByRole('heading', { name: 'Welcome, Nils Barrow' })).toBeVisible();
  await clean(nils, 'welcome');
  await nils.getByLabel('New password').fill('too-short');
  await nils.getByRole('button', { name: 'Set it and come in' }).click();
  await expect(nils.getByText(/At least 10 signs;/)).toBeVisible();
  await nils.getByLabel('New password').fill(password);
  await nils.getByRole('button', { name: 'Set it and come in' }).click();

  await expect(nils.getByText('You look on.')).toBeVisible();
  await expect(nils.getByRole('link', { name: 'New job' })).toHaveCount(0);
  await nils.goto(`${shopUrl()}/jobs/3/bench?step=57`);
  await expect(nils.getByTestId('verdict')).toBeVisible();
  await expect(nils.getByRole('button', { name: /Take/ })).toBeDisabled();
  await nils.keyboard.press('s');
  await nils.keyboard.press(' ');
  await expect(nils.getByRole('dialog')).toHaveCount(0);
  await clean(nils, 'the bench, looked at');
  await nils.goto(link);
  await expect(nils.getByRole('heading', { name: 'This link is closed' })).toBeVisible();

  await nils.goto(`${shopUrl()}/me`);
  await nils.getByLabel('As it is now').fill(password);
  await nils.getByLabel('New password').fill('a-better-one-than-that');
  await nils.getByRole('button', { name: 'Change it' }).click();
  await expect(nils.getByText(/^Changed\./)).toBeVisible();

  await page.getByRole('button', { name: 'I have it' }).click();
  await page.reload();
  await page.getByRole('button', { name: /Nils Barrow/ }).click();
  const account = page.getByRole('form', { name: 'Account of Nils Barrow' });
  await account.getByLabel(/Disabled/).check();
  await account.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('button', { name: /Nils Barrow.*disabled/ })).toBeVisible();
  await nils.getByRole('link', { name: 'Jobs' }).click();
  await expect(nils.getByRole('heading', { name: 'You were signed out' })).toBeVisible();
  await enter(nils, 'nils', 'a-better-one-than-that');
  await expect(nils.getByText(/This account is disabled/)).toBeVisible();
  await clean(nils, 'signed out', { only: ['[role=dialog]'] });

  await page.getByRole('link', { name: 'Who came in' }).click();
  await expect(page.getByRole('row', { name: /Nils Barrow.*Not let in.*the account is disabled/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Nils Barrow.*Account changed by.*Ada Quill.*disabled/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Nils Barrow.*Link made by/ })).toBeVisible();
});

/** Long: a shop of its own. */
test('who is signed out while typing signs in again over the page, and nothing typed is gone', async ({ page }) => {
  const shop = await ShopServer.open('again', { WISELOOM_CHROMIUM: '/nonexistent' });
  try {
    await signIn(page, 'mira', shop.url);
    await page.goto(`${shop.url}/jobs/new`);
    await page.getByLabel('Customer').fill('Skerry Harbour Works');
    await page.getByLabel('Machine').fill('Launch Tern');
    const lead = await Client.signIn(shop.url, 'ada');
    const mira = (await lead.get<{ id: string; signIn: string }[]>('/api/accounts')).find((a) => a.signIn === 'mira');
    await lead.delete(`/api/accounts/${mira?.id ?? ''}/sessions`);

    await page.getByRole('button', { name: 'Make the job' }).click();
    await enter(page, 'mira', 'copper-and-crimp');
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await expect(page.getByLabel('Machine')).toHaveValue('Launch Tern');
    await page.getByRole('button', { name: 'Make the job' }).click();
    await expect(page).toHaveURL(/\/jobs\/\d+\/import$/);
  } finally {
    await shop.close();
  }
});

/** Long: a shop of its own, without the example world. */
test('a shop without anybody makes its first lead with the code that the terminal shows', async ({ page }) => {
  const shop = await ShopServer.open('first', { WISELOOM_DEMO: '', WISELOOM_CHROMIUM: '/nonexistent' });
  try {
    const code = /enter this code: ([0-9A-F-]+)/.exec(shop.said)?.[1] ?? '';
    await page.goto(shop.url);
    await expect(page.getByRole('heading', { name: 'Nobody is here yet' })).toBeVisible();
    await clean(page, 'the first lead');
    await page.getByLabel('Code from the terminal').fill('00000-00000-00000-00000');
    await page.getByLabel('Your name').fill('Edda Rowan');
    await page.getByLabel('Sign-in name').fill('edda');
    await page.getByLabel('New password').fill(password);
    await page.getByRole('button', { name: 'Make the first lead' }).click();
    await expect(page.getByText('This is not the code that the terminal shows.')).toBeVisible();
    await page.getByLabel('Code from the terminal').fill(code);
    await page.getByRole('button', { name: 'Make the first lead' }).click();
    await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
    await page.getByRole('button', { name: 'Sign out' }).click();
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await enter(page, 'edda');
    await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
  } finally {
    await shop.close();
  }
});
