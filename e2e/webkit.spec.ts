import { type ChildProcess, spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { Builder, By, Capabilities, Key, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import { mainStory, PATIENCE, type Visitor } from './main-story.ts';
import { PASSWORD, test } from './story.ts';

const BROWSER = `/usr/lib/${process.arch === 'arm64' ? 'aarch64' : 'x86_64'}-linux-gnu/webkit2gtk-4.1/MiniBrowser`;
/** Of this run's own: another may go on beside it. */
const [SCREEN, PORT] = [`:${100 + (process.pid % 400)}`, 9000 + (process.pid % 900)];
/** It draws without a graphics card, and without a sandbox of its own where it may not make one. */
const ENV = {
  ...process.env,
  DISPLAY: SCREEN,
  WEBKIT_DISABLE_SANDBOX_THIS_IS_DANGEROUS: '1',
  WEBKIT_DISABLE_COMPOSITING_MODE: '1',
};
const KEYS: Readonly<Record<string, string>> = { Enter: Key.ENTER, Escape: Key.ESCAPE };

/** In Debian's WebKit. One window is all it has: who comes next begins where nobody is signed in. */
class InWebKit implements Visitor {
  readonly #web: WebDriver;
  /** Its driver tells of none. */
  readonly errors: readonly string[] = [];

  constructor(web: WebDriver) {
    this.#web = web;
  }

  async enter(login: string): Promise<Visitor> {
    await this.opens('/');
    await this.#web.manage().deleteAllCookies();
    await this.opens('/');
    await this.types('Login', login);
    await this.types('Password', PASSWORD);
    await this.presses('Sign in');
    return this;
  }

  opens(path: string): Promise<unknown> {
    return this.#web.get(process.env.E2E_ADDRESS + path);
  }

  reloads(): Promise<unknown> {
    return this.#web.navigate().refresh();
  }

  presses(name: string): Promise<void> {
    return this.#click(By.xpath(`//button[normalize-space(.)="${name}" or @aria-label="${name}"]`));
  }

  confirms(): Promise<void> {
    return this.#click(By.css('[role="dialog"] button.act'));
  }

  follows(words: string, what = 'a'): Promise<void> {
    return this.#click(By.xpath(`//${what}[contains(normalize-space(.), "${words}")]`));
  }

  async types(label: string, words: string): Promise<void> {
    const field = await this.#find(
      By.xpath(
        `//*[@aria-label="${label}" or @id=//label[normalize-space(.)="${label}"]/@for] | //label[normalize-space(.)="${label}"]//*[self::input or self::textarea]`,
      ),
    );
    await field.click();
    await field.sendKeys(words);
  }

  async keys(...keys: readonly string[]): Promise<void> {
    for (const key of keys)
      await this.#web
        .actions()
        .sendKeys(KEYS[key] ?? key)
        .perform();
  }

  controlEnter(): Promise<void> {
    return this.#web.actions().keyDown(Key.CONTROL).sendKeys(Key.ENTER).keyUp(Key.CONTROL).perform();
  }

  async clicks(at: readonly [number, number]): Promise<void> {
    const [x, y] = await this.#onPage(at);
    await this.#web.actions().move({ x, y }).click().perform();
  }

  async drags(from: readonly [number, number], to: readonly [number, number]): Promise<void> {
    const [[x0, y0], [x1, y1]] = [await this.#onPage(from), await this.#onPage(to)];
    const hand = this.#web.actions().move({ x: x0, y: y0 }).press();
    for (let i = 1; i <= 10; i++)
      hand.move({
        x: Math.round(x0 + ((x1 - x0) * i) / 10),
        y: Math.round(y0 + ((y1 - y0) * i) / 10),
        duration: 20,
      });
    await hand.release().perform();
  }

  text(): Promise<string> {
    return this.#web.executeScript<string>('return document.body.textContent');
  }

  async stands(css: string): Promise<void> {
    await this.#find(By.css(css));
  }

  #find(by: By): Promise<WebElement> {
    return this.#web.wait(until.elementLocated(by), PATIENCE, `${by} is not there`);
  }

  /** What is made anew while it is looked for is looked for again. */
  async #click(by: By): Promise<void> {
    let why = 'it is not there';
    const clicked = async () => {
      const [found] = await this.#web.findElements(by);
      return found?.click().then(
        () => true,
        (error: unknown) => {
          why = String(error);
          return false;
        },
      );
    };
    await this.#web.wait(clicked, PATIENCE).catch((cause: unknown) => {
      throw new Error(`${by} can’t be clicked: ${why}`, { cause });
    });
  }

  async #onPage([fx, fy]: readonly [number, number]): Promise<[x: number, y: number]> {
    const sheet = await this.#find(By.css('[role="group"][aria-label^="Page 1 of"]'));
    const [x, y, w, h] = await this.#web.executeScript<[number, number, number, number]>(
      'const b = arguments[0].getBoundingClientRect(); return [b.x, b.y, b.width, b.height];',
      sheet,
    );
    return [Math.round(x + w * fx), Math.round(y + h * fy)];
  }
}

test('in WebKit: work is filled in and handed in, marked with pen and note, handed back, read and acted on', async ({
  house,
  makeClass,
  made,
}, info) => {
  const c = await makeClass(['Ada']);
  const running: ChildProcess[] = [];
  const start = (program: string, ...args: string[]) =>
    running.push(spawn(program, args, { env: ENV, stdio: 'ignore' }));
  start('Xvfb', SCREEN, '-screen', '0', '1280x900x24');
  start('WebKitWebDriver', `--port=${PORT}`);
  let web: WebDriver | null = null;
  try {
    web = await begun();
    const window = new InWebKit(web);
    await mainStory({ house, c, file: made.written }, (login) => window.enter(login));
  } catch (error) {
    // Playwright takes no picture of a browser that is not its own.
    const picture = await web?.takeScreenshot().catch(() => '');
    if (picture) writeFileSync(info.outputPath('test-failed.png'), picture, 'base64');
    throw error;
  } finally {
    await web?.quit().catch(() => {});
    for (const r of running) r.kill('SIGKILL');
  }
});

/** The browser, as soon as its screen and its driver stand. */
async function begun(): Promise<WebDriver> {
  for (let tries = 0; ; tries++)
    try {
      return await new Builder()
        .usingServer(`http://127.0.0.1:${PORT}`)
        .withCapabilities(
          new Capabilities({
            browserName: 'MiniBrowser',
            'webkitgtk:browserOptions': { binary: BROWSER, args: ['--automation', '--geometry=1280x900'] },
          }),
        )
        .build();
    } catch (error) {
      if (tries > 20) throw error;
      await new Promise((r) => setTimeout(r, 500));
    }
}
