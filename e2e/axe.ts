import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from '@playwright/test';

/**
 * What is smaller than 24 pixels on purpose: the lines of the pile for a mouse, so that a class fits on the screen (its pages are the large form of them; a finger
 * gets lines of 44), and fields in their place on a small page.
 */
const SMALL = /aria-label="Choose |class="block hover:text-action hover:underline"|data-question=/;

/** What axe objects to on a page: rule and place. It is read without motion: what begins to come or go meanwhile would be read half seen. */
export async function objectionsTo(page: Page): Promise<string[]> {
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await page.waitForFunction(() => document.getAnimations().every((a) => a.playState !== 'running'));
  const { violations } = await new AxeBuilder({ page })
    .options({ rules: { 'target-size': { enabled: true } } })
    .analyze();
  await page.emulateMedia({ reducedMotion: null });
  return violations.flatMap((v) =>
    v.nodes
      .filter((n) => v.id !== 'target-size' || !SMALL.test(n.html))
      .map((n) => `${v.id} ${n.target.join(' ')}`),
  );
}
