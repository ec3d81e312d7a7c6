import puppeteer, { type Browser, type ElementHandle, type Page } from 'puppeteer-core';
import { mainStory, PATIENCE, type Visitor } from './main-story.ts';
import { PASSWORD, test } from './story.ts';

/** What the browser itself writes when the server says no, or a page is left. */
const EXPECTED = /status of (401|403|404|409)|NS_BINDING_ABORTED/;
const WAIT = { timeout: PATIENCE };

/** In Debian's Firefox, by the protocol that browsers of every maker are to speak. */
class InFirefox implements Visitor {
  readonly #page: Page;
  readonly errors: string[] = [];

  private constructor(page: Page) {
    this.#page = page;
    page.on('pageerror', (e) => this.errors.push(String(e)));
    page.on('console', (m) => {
      if (m.type() === 'error' && !EXPECTED.test(m.text())) this.errors.push(m.text());
    });
  }

  /** In a window with cookies of its own. */
  static async enter(browser: Browser, login: string): Promise<Visitor> {
    const page = await (await browser.createBrowserContext()).newPage();
    await page.setViewport({ width: 1280, height: 800 });
    const visitor = new InFirefox(page);
    await visitor.opens('/');
    await visitor.types('Login', login);
    await visitor.types('Password', PASSWORD);
    await visitor.presses('Sign in');
    return visitor;
  }

  opens(path: string): Promise<unknown> {
    return this.#page.goto(process.env.E2E_ADDRESS + path);
  }

  reloads(): Promise<unknown> {
    return this.#page.reload();
  }

  presses(name: string): Promise<void> {
    return this.#click(`::-p-aria([name="${name}"][role="button"])`);
  }

  confirms(): Promise<void> {
    return this.#click('[role="dialog"] button.act');
  }

  follows(words: string, what = 'a'): Promise<void> {
    return this.#click(`::-p-xpath(//${what}[contains(normalize-space(.), "${words}")])`);
  }

  async types(label: string, words: string): Promise<void> {
    await this.#click(`::-p-aria([name="${label}"])`);
    await this.#page.keyboard.type(words);
  }

  async keys(...keys: readonly string[]): Promise<void> {
    for (const key of keys) await this.#page.keyboard.press(key as 'Enter');
  }

  async controlEnter(): Promise<void> {
    await this.#page.keyboard.down('Control');
    await this.#page.keyboard.press('Enter');
    await this.#page.keyboard.up('Control');
  }

  async clicks(at: readonly [number, number]): Promise<void> {
    await this.#page.mouse.click(...(await this.#onPage(at)));
  }

  async drags(from: readonly [number, number], to: readonly [number, number]): Promise<void> {
    const { mouse } = this.#page;
    const [[x0, y0], [x1, y1]] = [await this.#onPage(from), await this.#onPage(to)];
    await mouse.move(x0, y0);
    await mouse.down();
    await mouse.move(x1, y1, { steps: 10 });
    await mouse.up();
  }

  text(): Promise<string> {
    return this.#page.evaluate(() => document.body.textContent);
  }

  async stands(css: string): Promise<void> {
    await this.#find(css);
  }

  async #find(selector: string): Promise<ElementHandle> {
    return (await this.#page.waitForSelector(selector, WAIT))!;
  }

  async #click(selector: string): Promise<void> {
    await (await this.#find(selector)).click();
  }

  async #onPage([fx, fy]: readonly [number, number]): Promise<[x: number, y: number]> {
    const box = (await (await this.#find('[role="group"][aria-label^="Page 1 of"]')).boundingBox())!;
    return [box.x + box.width * fx, box.y + box.height * fy];
  }
}

test('in Firefox: work is filled in and handed in, marked with pen and note, handed back, read and acted on', async ({
  house,
  makeClass,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const browser = await puppeteer.launch({
    browser: 'firefox',
    executablePath: '/usr/bin/firefox-esr',
    headless: true,
  });
  try {
    await mainStory({ house, c, file: made.written }, (login) => InFirefox.enter(browser, login));
  } finally {
    await browser.close();
  }
});
