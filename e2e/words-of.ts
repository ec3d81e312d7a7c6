import type { Page } from '@playwright/test';

/** All words that a view shows now, each once, in the order of the page: text, names for who hears it, placeholders, tips, and the tab’s title. */
export async function wordsOf(page: Page): Promise<string[]> {
  const found = await page.evaluate(() => {
    const out: string[] = [document.title];
    const seen = document.createTreeWalker(document.body, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT);
    while (seen.nextNode()) {
      const node = seen.currentNode;
      if (node instanceof Text) {
        if (node.parentElement?.checkVisibility() && !node.parentElement.closest('style, script'))
          out.push(node.data);
      } else if (node instanceof Element && node.checkVisibility())
        for (const name of ['aria-label', 'placeholder', 'data-tip', 'title', 'alt', 'aria-roledescription'])
          out.push(node.getAttribute(name) ?? '');
    }
    return out;
  });
  return [...new Set(found.map((words) => words.replace(/\s+/g, ' ').trim()))].filter((words) =>
    /\p{L}{2}/u.test(words),
  );
}
