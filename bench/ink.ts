import type { Running } from '@jotmark/server';
import { context, launch, serveBare, signedIn } from './browser.ts';
import { type Figure, inTurn, median } from './figures.ts';
import { PenHand, watched, watchTasks } from './pen-hand.ts';
import { benchClass } from './school.ts';

/** With so many strokes on the page; with those that have limits it is measured more often. */
const STROKES = [100, 500, 1000, 3000, 10_000, 20_000] as const;
const LIMITED: ReadonlySet<number> = new Set([500, 3000]);
const ROUNDS = 11;
/** Rounds until both are as quick as they get. */
const WARM = 4;
const FRAME_MS = 1000 / 60;
const MOST_MOVE_MS = 4;

export async function inkFigures(running: Running): Promise<Figure[]> {
  const browser = await launch();
  const { address, server } = await serveBare(new Uint8Array());
  const figures: Figure[] = [];
  for (const strokes of STROKES) {
    const limited = LIMITED.has(strokes);
    // As new as the desk beside it: a page that has drawn for minutes is quicker than one that was just opened.
    const bare = await (await context(browser)).newPage();
    await bare.goto(`${address}/bare-stroke.html`);
    const theirs = await PenHand.on(bare);
    const limit = (most: number) => (limited ? most : null);
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
    for (let i = 0; i < WARM; i++) {
      await desk();
      await alone();
    }
    task = 0;
    const [ours, baseline, ratio] = await inTurn(limited ? ROUNDS : 3, desk, alone);
    await page.bringToFront();
    await page.waitForTimeout(300);
    const moves = (await hand.moves()).sort((a, b) => a - b);
    await page.waitForTimeout(300);
    await page.keyboard.press('Control+z');
    await there.waitFor();
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
        ratio,
        against: 'the live stroke alone',
        limit: limit(1.5),
      },
      {
        what: `the same, the slowest of twenty, with its frame, ${on}`,
        ours: moves[Math.floor(moves.length * 0.95)]!,
        baseline: null,
        against: '',
        limit: limit(MOST_MOVE_MS),
      },
      {
        what: `script of settling a stroke, ${on}`,
        ours: median(settled),
        baseline: null,
        against: '',
        limit: limit(Math.round(1.5 * FRAME_MS)),
      },
      {
        what: `script of an eraser move, ${on}`,
        ours: median(erased),
        baseline: null,
        against: '',
        limit: limit(5),
      },
      {
        what: `longest task while writing, ${on}`,
        ours: task,
        baseline: null,
        against: '',
        limit: limit(50),
      },
    );
    await page.close();
    await bare.close();
  }
  server.close();
  await browser.close();
  return figures;
}
