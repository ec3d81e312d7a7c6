import type { Running } from '@jotmark/server';
import type { Locator, Page } from '@playwright/test';
import { context, launch, serveBare, signedIn } from './browser.ts';
import { type Figure, inTurn, median } from './figures.ts';
import { benchClass } from './school.ts';

/** Runs `act` in the page and gives the milliseconds until a page of another document was drawn in it. */
async function untilDrawn(page: Page, act: () => Promise<void>): Promise<number> {
  await page.evaluate(() => {
    performance.clearMarks('jotmark-page-drawn');
    const w = window as unknown as { benchStart: number };
    w.benchStart = 0;
    const begin = () => {
      w.benchStart ||= performance.now();
    };
    addEventListener('keydown', begin, { once: true, capture: true });
    addEventListener('click', begin, { once: true, capture: true });
  });
  await act();
  return page.evaluate(async () => {
    for (;;) {
      const drawn = performance
        .getEntriesByName('jotmark-page-drawn')
        .find((m) => String((m as PerformanceMark).detail).endsWith('/0'));
      if (drawn) return drawn.startTime - (window as unknown as { benchStart: number }).benchStart;
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
  });
}

/** A hand comes near the link and presses a fifth of a second later, which is quick for a hand; measured from the press. */
export async function approach(page: Page, link: Locator): Promise<number> {
  await link.hover();
  await page.waitForTimeout(200);
  return untilDrawn(page, () => link.click());
}

/** As a teacher comes: through Today, where the engine warms up, and back to the pile inside the app. */
async function pileOpened(
  page: Page,
  running: Running,
  assignmentId: string,
): Promise<() => Promise<number>> {
  await page.waitForTimeout(1500);
  await page.goto(`${running.address}/piles/${assignmentId}`);
  const links = page.getByRole('table').getByRole('link');
  await links.first().waitFor();
  await page.waitForTimeout(1500);
  let n = 0;
  return async () => {
    await page.bringToFront();
    if (n > 0) await page.getByRole('link', { name: 'Bench', exact: true }).click();
    const link = links.nth(n++);
    await link.waitFor();
    await page.waitForTimeout(600);
    const taken = await approach(page, link);
    await page.waitForTimeout(1200);
    return taken;
  };
}

const ROUNDS = 9;

export async function pageFigures(running: Running): Promise<Figure[]> {
  const { login, copies, assignmentId } = await benchClass(running, 2 * ROUNDS + 4, 0);
  const browser = await launch();
  const page = await signedIn(browser, running, login);
  const file = await (
    await page.request.get(`${running.address}/api/documents/${copies[3]!.documentId}/file`)
  ).body();
  const { address, server } = await serveBare(new Uint8Array(file));
  const bare = await (await context(browser)).newPage();
  await bare.goto(`${address}/bare-pages.html`);
  await page.bringToFront();
  const open = await pileOpened(page, running, assignmentId);
  await open();
  const size = await page
    .locator('canvas[data-drawn]')
    .first()
    .evaluate((c) => [(c as HTMLCanvasElement).width, (c as HTMLCanvasElement).height] as const);
  const drawBare = (which: 'engine' | 'other') => async () => {
    await bare.bringToFront();
    await bare.waitForTimeout(300);
    return bare.evaluate(
      ([which, w, h]) =>
        (window as unknown as { bare: Record<string, (a: string, w: number, h: number) => Promise<number>> })
          .bare[which as string]!('/page.pdf', w as number, h as number),
      [which, ...size] as const,
    );
  };
  const compared = async (which: 'engine' | 'other') => {
    const alone = drawBare(which);
    await alone();
    const [ours, baseline, ratio] = await inTurn(ROUNDS, open, alone);
    return { ours, baseline, ratio };
  };
  const engine = await compared('engine');
  const other = await compared('other');
  await page.bringToFront();
  await page.goto(`${running.address}/desk/${copies[0]!.copyId}`);
  await page.locator('canvas[data-drawn]').first().waitFor();
  const next: number[] = [];
  for (let i = 0; i < 5; i++) {
    await page.waitForTimeout(1200);
    next.push(await untilDrawn(page, () => page.keyboard.press('n')));
  }
  server.close();
  await browser.close();
  return [
    {
      what: 'page visible at the desk, from the click in the pile',
      ...engine,
      against: 'bare engine',
      limit: 1.3,
    },
    { what: 'the same', ...other, against: 'bare pdf.js', limit: 1 },
    { what: 'next copy, fetched ahead', ours: median(next), baseline: null, against: '', limit: 150 },
  ];
}
