import { chromium } from '@playwright/test';
const [,, out, path, w='1280', h='800', scheme='light', ...clicks] = process.argv;
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu'] });
const p = await b.newPage({ viewport: { width: +w, height: +h }, colorScheme: scheme });
const errs=[]; p.on('console', m => m.type()==='error' && errs.push(m.text())); p.on('pageerror', e=>errs.push(String(e)));
await p.goto('http://127.0.0.1:7450/'); await p.getByLabel('Name').fill('mira'); await p.getByLabel('Password').fill('copper-and-crimp'); await p.getByRole('button',{name:'Sign in',exact:true}).click(); await p.getByRole('button',{name:'Sign out'}).waitFor();
await p.goto('http://127.0.0.1:7450'+path); await p.waitForLoadState('networkidle');
for (const c of clicks) { if (c.startsWith('fill:')) { const [,l,v]=c.split(':'); await p.getByLabel(l).fill(v); } else if (c.startsWith('css:')) await p.locator(c.slice(4)).first().click(); else await p.getByRole('button',{name:c}).first().click(); await p.waitForTimeout(500); }
await p.screenshot({ path: out }); console.log(errs.join('\n')); await b.close();
