import type { CDPSession, Page } from '@playwright/test';

const MOVES = 120;

/** A pen on a page: trusted events by the browser's own protocol, and what they cost. */
export class PenHand {
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

  /** Script of each move of one long stroke, in milliseconds. */
  async moves(): Promise<number[]> {
    const at = (i: number) => [200 + i * 3, 420 + 40 * Math.sin(i / 9)] as const;
    await this.send('mousePressed', ...at(0));
    await this.frame();
    const out: number[] = [];
    for (let i = 1; i <= MOVES; i++) {
      const before = await this.script();
      await this.send('mouseMoved', ...at(i));
      await this.frame();
      out.push((await this.script()) - before);
    }
    await this.send('mouseReleased', ...at(MOVES));
    return out;
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
export const watchTasks = (page: Page) =>
  page.evaluate(() => {
    const w = window as unknown as { longest: number };
    w.longest = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) w.longest = Math.max(w.longest, entry.duration);
    }).observe({ type: 'longtask' });
  });
/** The longest task since it was asked before, in milliseconds; 0 when none was longer than 50. */
export const watched = (page: Page) =>
  page.evaluate(() => {
    const w = window as unknown as { longest: number };
    const was = w.longest;
    w.longest = 0;
    return was;
  });
