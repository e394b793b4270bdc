import { chromium } from '@playwright/test';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--use-gl=angle','--use-angle=swiftshader','--enable-unsafe-swiftshader'] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
page.on('pageerror', (e) => console.log('PAGEERROR', e.message, e.stack));
page.on('console', (m) => console.log('CONSOLE', m.text()));
const projects = await (await fetch('http://127.0.0.1:4310/api/projects')).json();
await page.goto(`http://127.0.0.1:4310/projects/${projects.find((p)=>/Gallow/.test(p.name)).id}`);
const rests = () => page.locator('[data-testid=stage][data-rests=yes][data-compiled=yes]').waitFor();
await rests();
await page.getByRole('tab', { name: 'Stage' }).click();
  const burn = page.locator('[data-parameter="burn"]').getByRole('spinbutton');
  await burn.focus();
  await page.keyboard.type('1');
  await page.keyboard.press('Enter');
await rests();
for (const [x,y] of [[243,160],[300,200],[400,200],[150,150],[600,380],[104+30,160]]) { await page.mouse.click(x,y); await page.waitForTimeout(300);
console.log(x,y, await page.locator('.inhand[data-prop]').evaluateAll((l) => l.map((e) => e.dataset.prop))); }
await page.screenshot({ path: '/tmp/a.png' });
await browser.close();
