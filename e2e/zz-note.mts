import { chromium } from '@playwright/test';

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu'],
});
const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
page.on('console', (m) => console.log('CONSOLE', m.text()));
page.on('pageerror', (e) => console.log('PAGEERROR', e.message));
await page.goto('http://127.0.0.1:4270');
await page.getByRole('button', { name: /Maren/ }).click();
await page.getByRole('link', { name: 'Finding your way on Hollin Island' }).click();
await page.getByRole('link', { name: 'Nakamura, Hana' }).click();
await page.locator('canvas[data-drawn]').first().waitFor({ timeout: 15000 });
await page.keyboard.press('5');
await page.evaluate(() => {
  for (const t of ['pointerdown', 'pointerup', 'mousedown', 'mouseup', 'focusin', 'focusout', 'blur'])
    addEventListener(
      t,
      (e) =>
        console.log(
          t,
          (e.target as HTMLElement)?.tagName,
          (e.target as HTMLElement)?.className?.toString?.().slice(0, 30),
        ),
      true,
    );
});
const drag = async (x0: number, y0: number, x1: number, y1: number) => {
  await page.mouse.move(x0, y0);
  await page.mouse.down();
  await page.mouse.move((x0 + x1) / 2, (y0 + y1) / 2);
  await page.mouse.move(x1, y1);
  await page.mouse.up();
};
await page.keyboard.press('3');
await drag(200, 586, 330, 588);
await page.keyboard.press('5');
await page.mouse.click(420, 400);
console.log(await page.evaluate(() => document.activeElement?.outerHTML.slice(0, 100)));
await page.keyboard.type('Count again');
await page.waitForTimeout(600);
console.log(await page.evaluate(() => document.activeElement?.outerHTML.slice(0, 100)));
await page.screenshot({ path: '/tmp/look/note.png' });
await browser.close();
