import type { Page } from '@playwright/test';
import { objectionsTo } from './axe.ts';
import { expect } from './story.ts';

/** A laptop, a tablet held upright, a telephone. */
const WIDTHS = [
  [1280, 800],
  [820, 1180],
  [390, 844],
] as const;

/** Nothing of a view is what axe objects to, and nothing of it lies beside the screen, however wide that is. Afterwards it is as wide as before. */
export async function atEveryWidth(page: Page, name: string): Promise<void> {
  const before = page.viewportSize()!;
  for (const [width, height] of WIDTHS) {
    await page.setViewportSize({ width, height });
    const at = `${name} at ${width}`;
    expect((await objectionsTo(page)).map((o) => `${at}: ${o}`)).toEqual([]);
    const beside = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
    expect(`${at}: ${Math.max(0, beside)} px beside the screen`).toBe(`${at}: 0 px beside the screen`);
  }
  await page.setViewportSize(before);
}
