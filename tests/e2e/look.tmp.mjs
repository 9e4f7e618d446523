import { chromium } from '@playwright/test';
const [,, spec] = process.argv;
const flags = ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'];
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: flags });
const jobs = JSON.parse(spec);
for (const j of jobs) {
  const p = await b.newPage({ viewport: { width: j.w ?? 1280, height: j.h ?? 800 }, colorScheme: j.dark ? 'dark' : 'light' });
  p.on('console', m => { if (m.type() === 'error') console.log(j.name, 'console:', m.text().slice(0, 300)); });
  p.on('pageerror', e => console.log(j.name, 'pageerror', e.message.slice(0,300)));
  await p.goto('http://127.0.0.1:7250/');
  if (j.as !== null) { await p.getByRole('button', { name: new RegExp(j.as ?? 'Mira') }).click(); await p.getByText('Sign out').waitFor(); }
  if (j.url) await p.goto('http://127.0.0.1:7250' + j.url);
  await p.waitForLoadState('load'); await p.waitForTimeout(j.wait ?? 900);
  for (const d of j.do ?? []) { if (d.key) await p.keyboard.press(d.key); if (d.click) await p.getByRole(d.role ?? 'button', { name: d.click, exact: d.exact ?? false }).first().click(); if (d.type) await p.keyboard.type(d.type); await p.waitForTimeout(d.wait ?? 500); }
  await p.screenshot({ path: `/tmp/shots/${j.name}.png`, fullPage: j.full ?? false });
  await p.close();
}
await b.close();
