import { execFileSync } from 'node:child_process';
import type { Running } from '@jotmark/server';
import type { Page } from '@playwright/test';
import { launch, signedIn } from './browser.ts';
import { type Figure, median } from './figures.ts';
import { approach } from './pages.ts';
import { watched, watchTasks } from './pen-hand.ts';
import { benchClass } from './school.ts';

const MARKS = 3000;
const COPIES = 60;
/** From here on memory may not grow: what is kept ahead and behind is kept by now. */
const WARM = 20;
/** Longer than anything of a copy that was put away is kept, in milliseconds. */
const SETTLE_MS = 25_000;

/** When all marks were drawn that are painted from frame to frame, in milliseconds since `since`. */
const marksDrawn = (page: Page, since: number) =>
  page.evaluate(async (start) => {
    for (;;) {
      const last = performance.getEntriesByName('jotmark-marks-drawn').findLast((m) => m.startTime > start);
      if (last) return last.startTime - start;
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
  }, since);

/** A zoom step with thousands of strokes: the stretched picture at once, the sharp one soon, and nothing that stops the pen. */
async function zoomFigures(running: Running): Promise<Figure[]> {
  const { login, copies } = await benchClass(running, 1, MARKS);
  const browser = await launch();
  const page = await signedIn(browser, running, login);
  await page.goto(`${running.address}/desk/${copies[0]!.copyId}`);
  await page.getByText(`${MARKS} marks, 0 notes`).waitFor();
  await page.locator('canvas[data-drawn]').first().waitFor();
  await page.waitForTimeout(1500);
  await watchTasks(page);
  const moved: number[] = [];
  const sharp: number[] = [];
  let task = 0;
  for (let i = 0; i < 8; i++) {
    await watched(page);
    // Frames until the page is as large as it is to be, and the time until page and marks are sharp.
    const step = page.evaluate(
      () =>
        new Promise<{ frames: number; start: number }>((resolve) => {
          const sheet = document.querySelector<HTMLElement>('[data-index="0"]')!;
          const before = sheet.offsetWidth;
          addEventListener(
            'keydown',
            () => {
              const start = performance.now();
              let frames = 0;
              const look = () => {
                frames++;
                if (sheet.offsetWidth !== before) resolve({ frames, start });
                else requestAnimationFrame(look);
              };
              requestAnimationFrame(look);
            },
            { once: true, capture: true },
          );
        }),
    );
    await page.keyboard.press(i % 2 ? '-' : '+');
    const { frames, start } = await step;
    moved.push(frames);
    sharp.push(await marksDrawn(page, start));
    await page.waitForTimeout(400);
    task = Math.max(task, await watched(page));
  }
  await browser.close();
  const one = (what: string, ours: number, limit: number, unit = 'ms'): Figure => ({
    what: `${what}, ${MARKS} strokes`,
    ours,
    baseline: null,
    against: '',
    limit,
    unit,
  });
  return [
    one('a zoom step: the moved picture', median(moved), 1, 'frames'),
    one('a zoom step: sharp again', median(sharp), 300),
    one('a zoom step: the longest task', task, 50),
  ];
}

/** Opening a copy full of marks, against the one beside it in the pile that has none. */
async function openFigures(running: Running): Promise<Figure[]> {
  const { login, assignmentId } = await benchClass(running, 2, MARKS);
  const browser = await launch();
  const page = await signedIn(browser, running, login);
  await page.goto(`${running.address}/piles/${assignmentId}`);
  await page.waitForTimeout(1500);
  const full: number[] = [];
  const empty: number[] = [];
  const drawn: number[] = [];
  for (let i = 0; i < 14; i++) {
    const link = page
      .getByRole('table')
      .getByRole('link')
      .nth(i % 2);
    await link.waitFor();
    await page.waitForTimeout(600);
    const seen = await approach(page, link);
    // The first of each warms up.
    if (i > 1) (i % 2 ? empty : full).push(seen);
    if (i % 2 === 0) {
      const start = await page.evaluate(() => (window as unknown as { benchStart: number }).benchStart);
      const all = await marksDrawn(page, start);
      if (i > 1) drawn.push(all);
    }
    await page.waitForTimeout(300);
    await page.getByRole('link', { name: 'Bench', exact: true }).click();
  }
  await browser.close();
  return [
    {
      what: `a copy with ${MARKS} marks is open`,
      ours: median(full),
      baseline: median(empty),
      against: 'one without marks',
      limit: 1.5,
    },
    {
      what: 'the same, until the last of its marks is drawn',
      ours: median(drawn),
      baseline: null,
      against: '',
      limit: null,
    },
  ];
}

/** What the renderer has in memory, in MB, after it was tidied. */
async function memory(page: Page): Promise<{ heap: number; nodes: number; resident: number }> {
  // Nobody marks a copy in half a second: what is let go after a while is gone by then.
  await page.waitForTimeout(SETTLE_MS);
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('HeapProfiler.collectGarbage');
  await cdp.send('HeapProfiler.collectGarbage');
  const { usedSize } = await cdp.send('Runtime.getHeapUsage');
  const { nodes } = await cdp.send('Memory.getDOMCounters');
  await cdp.detach();
  const browser = await page.context().browser()!.newBrowserCDPSession();
  const { processInfo } = await browser.send('SystemInfo.getProcessInfo');
  await browser.detach();
  const renderers = processInfo.filter((p) => p.type === 'renderer').map((p) => String(p.id));
  const rss = execFileSync('ps', ['-o', 'rss=', '-p', renderers.join()], { encoding: 'utf8' });
  const resident = Math.max(...rss.trim().split('\n').map(Number)) / 1024;
  return { heap: usedSize / 1e6, nodes, resident };
}

/** Sixty copies opened one after the other, each with its pages and marks. */
async function memoryFigures(running: Running): Promise<Figure[]> {
  const { login, copies } = await benchClass(running, COPIES, 300);
  const browser = await launch();
  const page = await signedIn(browser, running, login);
  await page.goto(`${running.address}/desk/${copies[0]!.copyId}`);
  await page.locator('canvas[data-drawn]').first().waitFor();
  let warm: Awaited<ReturnType<typeof memory>> | null = null;
  for (let i = 1; i < COPIES; i++) {
    const before = page.url();
    await page.keyboard.press('n');
    await page.waitForURL((url) => url.href !== before);
    await page.locator('canvas[data-drawn]').first().waitFor();
    // As a teacher does: a tick, and on.
    await page.keyboard.press('2');
    const { x, y } = (await page.locator('[data-index="0"]').boundingBox())!;
    await page.mouse.click(x + 200, y + 200);
    await page.getByText('Saved', { exact: true }).waitFor();
    if (i === WARM) warm = await memory(page);
  }
  const end = await memory(page);
  await browser.close();
  const of = (what: string, ours: number, baseline: number, unit: string): Figure => ({
    what: `${what} after ${COPIES} copies`,
    ours,
    baseline,
    against: `after ${WARM}`,
    limit: 1.1,
    unit,
  });
  return [
    of('script heap', end.heap, warm!.heap, 'MB'),
    of('elements', end.nodes, warm!.nodes, ''),
    of('memory of the page’s process', end.resident, warm!.resident, 'MB'),
  ];
}

export async function deskFigures(running: Running): Promise<Figure[]> {
  return [
    ...(await zoomFigures(running)),
    ...(await openFigures(running)),
    ...(await memoryFigures(running)),
  ];
}
