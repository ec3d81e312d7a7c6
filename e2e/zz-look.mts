import { chromium } from '@playwright/test';

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
page.on('console', (m) => {
  if (m.type() === 'error' || m.type() === 'warning') console.log('CONSOLE', m.text());
});
page.on('pageerror', (e) => console.log('PAGEERROR', e.message, e.stack));
const B = 'http://127.0.0.1:4270';
const shot = (n: string) => page.screenshot({ path: `/tmp/look/${n}.png` });
await page.goto(B);
await page.getByRole('button', { name: /Maren/ }).waitFor();
await shot('signin');
await page.getByRole('button', { name: /Maren/ }).click();
await page.waitForTimeout(2500);
await shot('today');
await page.getByRole('link', { name: 'Finding your way on Hollin Island' }).click();
await page.getByRole('table').waitFor();
await shot('pile');
await page.getByRole('link', { name: /Go on with/ }).click();
await page
  .locator('canvas[data-drawn]')
  .first()
  .waitFor({ timeout: 15000 })
  .catch(() => console.log('not drawn'));
await page.waitForTimeout(800);
await shot('desk');
await browser.close();
