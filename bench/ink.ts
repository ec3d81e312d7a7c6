import type { Running } from '@jotmark/server';
import type { CDPSession, Page } from '@playwright/test';
import { context, launch, serveBare, signedIn } from './browser.ts';
import { type Figure, inTurn, median } from './figures.ts';
import { benchClass } from './school.ts';

const MOVES = 120;
/** How the cost grows is looked at with so many strokes on the page. */
const STROKES = [500, 3000] as const;
const ROUNDS = 9;
const FRAME_MS = 1000 / 60;

class PenHand {
  readonly #page: Page;
  readonly #cdp: CDPSession;

  private constructor(page: Page, cdp: CDPSession) {
    this.#page = page;
    this.#cdp = cdp;
  }

  static async on(page: Page): Promise<PenHand> {
    const cdp = await page.context().newCDPSession(page);
    await cdp.send('Performance.enable');
    return new PenHand(page, cdp);
  }

  async send(type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', x: number, y: number): Promise<void> {
    await this.#cdp.send('Input.dispatchMouseEvent', {
      type,
      x,
      y,
      force: 0.5,
      pointerType: 'pen',
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
    });
  }

  frame(): Promise<unknown> {
    return this.#page.evaluate(() => new Promise(requestAnimationFrame));
  }

  /** Milliseconds of script so far, as the browser's own counter says. */
  async script(): Promise<number> {
    const { metrics } = await this.#cdp.send('Performance.getMetrics');
    return metrics.find((m) => m.name === 'ScriptDuration')!.value * 1000;
  }

  /** One long stroke: script of a move, averaged, and script of its settling up to the second frame. */
  async stroke(): Promise<{ move: number; settle: number }> {
    const at = (i: number) => [200 + i * 3, 300 + 40 * Math.sin(i / 9)] as const;
    await this.send('mousePressed', ...at(0));
    await this.frame();
    const before = await this.script();
    for (let i = 1; i <= MOVES; i++) {
      await this.send('mouseMoved', ...at(i));
      if (i % 4 === 0) await this.frame();
    }
    const moved = await this.script();
    await this.send('mouseReleased', ...at(MOVES));
    await this.frame();
    await this.frame();
    return { move: (moved - before) / MOVES, settle: (await this.script()) - moved };
  }

  /** One sweep of the eraser down the page: script of a move, averaged. */
  async sweep(): Promise<number> {
    const moves = 40;
    await this.send('mousePressed', 300, 120);
    await this.frame();
    const before = await this.script();
    for (let i = 1; i <= moves; i++) {
      await this.send('mouseMoved', 300 + i, 120 + i * 10);
      await this.frame();
    }
    const taken = (await this.script()) - before;
    await this.send('mouseReleased', 300 + moves, 120 + moves * 10);
    return taken / moves;
  }
}

/** Tells of tasks that kept the screen waiting, from now on. */
const watchTasks = (page: Page) =>
  page.evaluate(() => {
    const w = window as unknown as { longest: number };
    w.longest = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) w.longest = Math.max(w.longest, entry.duration);
    }).observe({ type: 'longtask' });
  });
/** The longest task since it was asked before, in milliseconds; 0 when none was longer than 50. */
const watched = (page: Page) =>
  page.evaluate(() => {
    const w = window as unknown as { longest: number };
    const was = w.longest;
    w.longest = 0;
    return was;
  });

export async function inkFigures(running: Running): Promise<Figure[]> {
  const browser = await launch();
  const { address, server } = await serveBare(new Uint8Array());
  const bare = await (await context(browser)).newPage();
  await bare.goto(`${address}/bare-stroke.html`);
  const theirs = await PenHand.on(bare);
  const figures: Figure[] = [];
  for (const strokes of STROKES) {
    const { login, copies } = await benchClass(running, 1, strokes);
    const page = await signedIn(browser, running, login);
    const there = page.getByText(`${strokes} marks, 0 notes`);
    await page.goto(`${running.address}/desk/${copies[0]!.copyId}`);
    await there.waitFor();
    await page.locator('canvas[data-drawn]').first().waitFor();
    await page.keyboard.press('1');
    const hand = await PenHand.on(page);
    const settled: number[] = [];
    let task = 0;
    const desk = async () => {
      await page.bringToFront();
      // To come to the front has a cost of its own, which is no writing.
      await page.waitForTimeout(300);
      await watched(page);
      const { move, settle } = await hand.stroke();
      settled.push(settle);
      await page.waitForTimeout(300);
      task = Math.max(task, await watched(page));
      await page.keyboard.press('Control+z');
      await there.waitFor();
      return move;
    };
    const alone = async () => {
      await bare.bringToFront();
      return (await theirs.stroke()).move;
    };
    await watchTasks(page);
    await desk();
    await alone();
    task = 0;
    const [ours, baseline] = await inTurn(ROUNDS, desk, alone);
    await page.bringToFront();
    await page.keyboard.press('e');
    const erased: number[] = [];
    for (let i = 0; i < 3; i++) {
      erased.push(await hand.sweep());
      await page.waitForTimeout(300);
      await page.keyboard.press('Control+z');
      await there.waitFor();
    }
    const on = `${strokes} strokes on the page`;
    figures.push(
      {
        what: `script of a pen move, ${on}`,
        ours,
        baseline,
        against: 'the live stroke alone',
        limit: 1.5,
      },
      {
        what: `script of settling a stroke, ${on}`,
        ours: median(settled),
        baseline: null,
        against: '',
        limit: Math.round(1.5 * FRAME_MS),
      },
      {
        what: `script of an eraser move, ${on}`,
        ours: median(erased),
        baseline: null,
        against: '',
        limit: 5,
      },
      { what: `longest task while writing, ${on}`, ours: task, baseline: null, against: '', limit: 50 },
    );
    await page.close();
  }
  server.close();
  await browser.close();
  return figures;
}
