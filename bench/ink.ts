import type { Running } from '@jotmark/server';
import type { CDPSession, Page } from '@playwright/test';
import { context, launch, serveBare, signedIn } from './browser.ts';
import { type Figure, inTurn } from './figures.ts';
import { benchClass } from './school.ts';

const MOVES = 120;

/** Script milliseconds a pen move costs, averaged over one stroke of many moves, as the browser's own counter says. */
async function scriptAMove(page: Page, cdp: CDPSession): Promise<number> {
  const send = (type: string, i: number) =>
    cdp.send('Input.dispatchMouseEvent', {
      type: type as 'mouseMoved',
      x: 200 + i * 3,
      y: 300 + 40 * Math.sin(i / 9),
      force: 0.5,
      pointerType: 'pen',
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
    });
  const script = async () =>
    (await cdp.send('Performance.getMetrics')).metrics.find((m) => m.name === 'ScriptDuration')!.value * 1000;
  await send('mousePressed', 0);
  await page.evaluate(() => new Promise(requestAnimationFrame));
  const before = await script();
  for (let i = 1; i <= MOVES; i++) {
    await send('mouseMoved', i);
    if (i % 4 === 0) await page.evaluate(() => new Promise(requestAnimationFrame));
  }
  const taken = (await script()) - before;
  await send('mouseReleased', MOVES);
  return taken / MOVES;
}

export async function inkFigures(running: Running): Promise<Figure[]> {
  const { login, copies } = await benchClass(running, 1, 500);
  const browser = await launch();
  const page = await signedIn(browser, running, login);
  await page.goto(`${running.address}/desk/${copies[0]!.copyId}`);
  await page.getByText('500 marks, 0 notes').waitFor();
  await page.locator('canvas[data-drawn]').first().waitFor();
  await page.keyboard.press('1');
  const { address, server } = await serveBare(new Uint8Array());
  const bare = await (await context(browser)).newPage();
  await bare.goto(`${address}/bare-stroke.html`);
  const ours = await page.context().newCDPSession(page);
  const theirs = await bare.context().newCDPSession(bare);
  await ours.send('Performance.enable');
  await theirs.send('Performance.enable');
  const desk = async () => {
    await page.bringToFront();
    const value = await scriptAMove(page, ours);
    await page.waitForTimeout(300);
    await page.keyboard.press('Control+z');
    await page.getByText('500 marks, 0 notes').waitFor();
    return value;
  };
  const alone = async () => {
    await bare.bringToFront();
    return scriptAMove(bare, theirs);
  };
  await desk();
  await alone();
  const [a, b] = await inTurn(9, desk, alone);
  server.close();
  await browser.close();
  return [
    {
      what: 'script of a pen move, 500 marks on the page',
      ours: a,
      baseline: b,
      against: 'the live stroke alone',
      limit: 1.5,
    },
  ];
}
