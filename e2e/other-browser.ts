import puppeteer, { type Browser, type ElementHandle, type Page } from 'puppeteer-core';
import { expect, PASSWORD } from './story.ts';

/** What a browser of another maker takes longer for is not a fault of ours. */
const PATIENCE = { timeout: 60_000 };
/** What the browser itself writes when the server says no. */
const EXPECTED = /status of (401|403|404|409)|NS_BINDING_ABORTED/;

/** Debian's Firefox, by the protocol that browsers of every maker speak. */
export const firefox = (): Promise<Browser> =>
  puppeteer.launch({ browser: 'firefox', executablePath: '/usr/bin/firefox-esr', headless: true });

/** Somebody in a browser that this project's other stories do not use: things are found by what they are called. */
export class Visitor {
  readonly page: Page;
  /** What the browser complained of. */
  readonly errors: string[] = [];

  private constructor(page: Page) {
    this.page = page;
    page.on('pageerror', (e) => this.errors.push(String(e)));
    page.on('console', (m) => {
      if (m.type() === 'error' && !EXPECTED.test(m.text())) this.errors.push(m.text());
    });
  }

  /** In a window with cookies of its own, signed in by the form. */
  static async in(browser: Browser, login: string): Promise<Visitor> {
    const context = await browser.createBrowserContext();
    const page = await context.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    const visitor = new Visitor(page);
    await visitor.opens('/');
    await visitor.types('Login', login);
    await visitor.types('Password', PASSWORD);
    await visitor.presses('Sign in');
    await visitor.named('Sign out');
    return visitor;
  }

  opens(path: string): Promise<unknown> {
    return this.page.goto(process.env.E2E_ADDRESS + path);
  }

  /** The thing of this name, as whoever reads the page aloud would say it. */
  async named(name: string, role = ''): Promise<ElementHandle> {
    const found = await this.page.waitForSelector(
      `::-p-aria([name="${name}"]${role && `[role="${role}"]`})`,
      PATIENCE,
    );
    return found!;
  }

  async presses(name: string, role = 'button'): Promise<void> {
    await (await this.named(name, role)).click();
  }

  /** The link, or what else is pressed, in which these words stand. */
  async follows(words: string, what: 'a' | 'button' = 'a'): Promise<void> {
    const link = await this.page.waitForSelector(
      `::-p-xpath(//${what}[contains(normalize-space(.), "${words}")])`,
      PATIENCE,
    );
    await link!.click();
  }

  async types(label: string, words: string): Promise<void> {
    await (await this.named(label)).click();
    await this.page.keyboard.type(words);
  }

  /** These words stand somewhere on the page. */
  async sees(words: string): Promise<void> {
    await expect.poll(() => this.page.evaluate(() => document.body.textContent), PATIENCE).toContain(words);
  }

  async drawn(): Promise<void> {
    await this.page.waitForSelector('canvas[data-drawn]', PATIENCE);
  }

  /** Where a point of the first page, as shares of its shown size, is on the screen. */
  async at(fx: number, fy: number): Promise<[x: number, y: number]> {
    const sheet = await this.page.waitForSelector('[role="group"][aria-label^="Page 1 of"]', PATIENCE);
    const box = (await sheet!.boundingBox())!;
    return [box.x + box.width * fx, box.y + box.height * fy];
  }

  async drags(from: [number, number], to: [number, number]): Promise<void> {
    const { mouse } = this.page;
    await mouse.move(...from);
    await mouse.down();
    for (let i = 1; i <= 10; i++)
      await mouse.move(from[0] + ((to[0] - from[0]) * i) / 10, from[1] + ((to[1] - from[1]) * i) / 10);
    await mouse.up();
  }
}
