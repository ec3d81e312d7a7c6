import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect } from './story.ts';

/** A laptop, a tablet held upright, a telephone. */
const WIDTHS = [
  [1280, 800],
  [820, 1180],
  [390, 844],
] as const;

/**
 * What is smaller than 24 pixels on purpose: the lines of the pile for a mouse, so that a class fits on the screen (its pages are the large form of them; a finger
 * gets lines of 44), and fields in their place on a small page.
 */
const SMALL = /aria-label="Choose |class="block hover:text-action hover:underline"|data-question=/;

/** Nothing of a view is what axe objects to, and nothing of it lies beside the screen, however wide that is. Afterwards it is as wide as before. */
export async function atEveryWidth(page: Page, name: string): Promise<void> {
  const before = page.viewportSize()!;
  for (const [width, height] of WIDTHS) {
    await page.setViewportSize({ width, height });
    // What is on its way in or out is half seen: it is looked at when it has come to rest.
    await page.waitForFunction(() => document.getAnimations().every((a) => a.playState !== 'running'));
    const { violations } = await new AxeBuilder({ page })
      .options({ rules: { 'target-size': { enabled: true } } })
      .analyze();
    const at = `${name} at ${width}`;
    const found = violations.flatMap((v) =>
      v.nodes
        .filter((n) => v.id !== 'target-size' || !SMALL.test(n.html))
        .map((n) => `${at}: ${v.id} ${n.target.join(' ')}`),
    );
    expect(found).toEqual([]);
    const beside = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
    expect(`${at}: ${Math.max(0, beside)} px beside the screen`).toBe(`${at}: 0 px beside the screen`);
  }
  await page.setViewportSize(before);
}
