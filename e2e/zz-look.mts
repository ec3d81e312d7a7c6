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
const ctx = await browser.newContext({ viewport: { width: 1280, height: 800 } });
const page = await ctx.newPage();
page.on('console', (m) => {
  if (m.type() === 'error' || m.type() === 'warning') console.log('CONSOLE', m.text());
});
page.on('pageerror', (e) => console.log('PAGEERROR', e.message, e.stack));
const B = 'http://127.0.0.1:4270';
const shot = (n: string) => page.screenshot({ path: `/tmp/look/${n}.png` });
await page.goto(B);
await page.getByRole('button', { name: /Maren/ }).click();
await page.getByRole('link', { name: 'Finding your way on Hollin Island' }).click();
await page.getByRole('link', { name: 'Mbeki-Osei, Kofi' }).click();
await page.locator('canvas[data-drawn]').first().waitFor({ timeout: 15000 });
await page.keyboard.press('1');
const cdp = await ctx.newCDPSession(page);
const pen = (type: string, x: number, y: number, force: number) =>
  cdp.send('Input.dispatchMouseEvent', {
    type: type as never,
    x,
    y,
    button: 'left',
    buttons: type === 'mouseReleased' ? 0 : 1,
    pointerType: 'pen',
    force,
    clickCount: 1,
  } as never);
await pen('mousePressed', 300, 300, 0.3);
for (let i = 0; i < 40; i++) await pen('mouseMoved', 300 + i * 4, 300 + 30 * Math.sin(i / 4), 0.3 + i / 80);
await pen('mouseReleased', 460, 300, 0);
await page.keyboard.press('3');
const p1 = await page.locator('[data-page="0"]').boundingBox();
console.log(p1);
const drag = async (x0: number, y0: number, x1: number, y1: number) => {
  await page.mouse.move(x0, y0);
  await page.mouse.down();
  await page.mouse.move((x0 + x1) / 2, (y0 + y1) / 2);
  await page.mouse.move(x1, y1);
  await page.mouse.up();
};
await drag(200, 586, 330, 588);
await page.keyboard.press('5');
await page.mouse.click(420, 400);
await page.keyboard.type(
  'Count the squares again: is the hut left or right of the 36 line? Put your finger on the corner.',
);
await page.keyboard.press('Escape');
await page.keyboard.press('6');
await drag(200, 658, 380, 660);
await page.keyboard.type('Straight means: as the gull flies.');
await page.keyboard.press('Escape');
await page.keyboard.press('g');
await page.keyboard.type('7,5');
await page.keyboard.press('Escape');
await page.keyboard.press('c');
await page.keyboard.type('Wanjiru, you measured with care.');
await page.keyboard.press('Escape');
await page.waitForTimeout(900);
await shot('desk2');
await page.reload();
await page.locator('canvas[data-drawn]').first().waitFor();
await page.waitForTimeout(500);
await shot('desk3');
await page.keyboard.press('Control+Enter');
await page.waitForTimeout(800);
await shot('desk4');
await page.goBack();
await page.goBack();
await page.getByRole('link', { name: /Today/ }).first().click();
await page.getByRole('link', { name: 'Finding your way on Hollin Island' }).click();
await page.getByRole('button', { name: /Hand back/ }).click();
await page.waitForTimeout(400);
await shot('handback');
await page.getByRole('button', { name: 'Not yet' }).click();
await page.getByRole('button', { name: 'Sign out' }).click();
await page.getByRole('button', { name: /Noor/ }).click();
await page.waitForTimeout(700);
await shot('mywork');
await page.getByRole('link', { name: /Signs and squares/ }).click();
await page.locator('canvas[data-drawn]').first().waitFor();
await page.waitForTimeout(500);
await shot('marked');
await browser.close();
