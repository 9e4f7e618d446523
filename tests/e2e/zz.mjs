import { chromium } from '@playwright/test';
const b = await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox','--disable-gpu']});
for (const [l,w,h] of [['frost-fan',1280,800],['frost-fan',360,740]]) {
 const p = await (await b.newContext({viewport:{width:w,height:h}})).newPage();
 await p.goto('file:///tmp/pack-'+l+'/pack.html');
 p.on('console', m => console.log(m.text()));
 if (w===1280) { await p.screenshot({path:'/tmp/p1.png'}); await p.locator('#connect').scrollIntoViewIfNeeded(); }
 await p.evaluate(() => document.querySelector('#connect').scrollIntoView()); await p.screenshot({path:`/tmp/p2-${w}.png`});
 await p.evaluate(() => document.querySelector('#c12, #c13').closest('.stop').scrollIntoView()); await p.screenshot({path:`/tmp/p3-${w}.png`});
 await p.evaluate(() => document.querySelector('#trouble').scrollIntoView()); 
 await p.locator('.guide > details').nth(3).locator('summary').first().click(); await p.screenshot({path:`/tmp/p4-${w}.png`});
 await p.evaluate(() => document.querySelector('#how').scrollIntoView()); await p.screenshot({path:`/tmp/p5-${w}.png`});
 console.log(w, await p.evaluate(() => document.documentElement.scrollWidth), await p.locator('#tools').isVisible());
}
const p = await b.newPage(); await p.goto('file:///tmp/pack-frost-fan/pack.html'); const t=Date.now(); await p.pdf({path:'/tmp/p.pdf',format:'A4',tagged:true,outline:true,printBackground:true,margin:{top:'12mm',bottom:'16mm',left:'12mm',right:'12mm'}}); console.log('pdf',Date.now()-t);
await b.close();
