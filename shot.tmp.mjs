import { chromium } from '@playwright/test';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--use-gl=angle','--use-angle=swiftshader','--enable-unsafe-swiftshader'] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
page.on('pageerror', (e) => console.log('PAGEERROR', e.message, e.stack));
page.on('console', (m) => m.type()!=='log' && console.log('CONSOLE', m.text()));
const projects = await (await fetch('http://127.0.0.1:4310/api/projects')).json();
await page.goto(`http://127.0.0.1:4310/projects/${projects.find((p)=>/Gallow/.test(p.name)).id}`);
const rests = () => page.locator('[data-testid=stage][data-rests=yes][data-compiled=yes]').waitFor({timeout:60000});
await rests();
for (const name of ['Scrim','Ghost light','Furnace mouth']) {
  const t = Date.now();
  await page.getByLabel('Set on the stage').selectOption({ label: name });
  await page.waitForTimeout(300); await rests(); console.log(name, 'rests after', Date.now()-t);
  await page.screenshot({ path: `/tmp/${name.replace(' ','')}.png`, clip: { x:0,y:44,width:812,height:388 } });
}
await browser.close();
