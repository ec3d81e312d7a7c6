import type { Running } from '@jotmark/server';
import type { Browser, Page } from '@playwright/test';
import { context, launch } from './browser.ts';
import { atMost, type Figure } from './figures.ts';
import { benchClass, PASSWORD } from './school.ts';

interface Wire {
  /** Of scripts, without those of the PDF engine, in kB as they travelled. */
  readonly script: number;
  /** Of everything that belongs to the app and not to the work. */
  readonly app: number;
}

/** Hears what travels until the view stands; every byte counts as it came over the wire. */
async function whileLoading(page: Page, load: () => Promise<void>): Promise<Wire> {
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Network.enable');
  const of = new Map<string, { url: string; type: string }>();
  let script = 0;
  let app = 0;
  cdp.on('Network.responseReceived', (e) => of.set(e.requestId, { url: e.response.url, type: e.type }));
  cdp.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    const found = of.get(requestId);
    if (!found || found.url.includes('/api/')) return;
    app += encodedDataLength;
    if (found.url.endsWith('.js') && !found.url.includes('engine.worker')) script += encodedDataLength;
  });
  await load();
  // What is loaded while one looks at the first view counts as well.
  await page.waitForTimeout(2500);
  await cdp.detach();
  return { script: script / 1000, app: app / 1000 };
}

async function signIn(page: Page, address: string, login: string, there: string): Promise<void> {
  await page.goto(`${address}/sign-in`);
  await page.getByLabel('Login').fill(login);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.getByRole('button', { name: 'Sign out' }).waitFor();
  await page.goto(address + there);
  await page.locator('canvas[data-drawn], [data-page], main').first().waitFor();
}

/** First loads as a browser that has never been here sees them, by gzip, and a visit again. */
async function visits(browser: Browser, address: string, login: string, there: string) {
  const fresh = await context(browser);
  await fresh.setExtraHTTPHeaders({ 'accept-encoding': 'gzip' });
  const page = await fresh.newPage();
  const first = await whileLoading(page, () => signIn(page, address, login, there));
  const again = await fresh.newPage();
  const second = await whileLoading(again, async () => {
    await again.goto(address + there);
    await again.locator('main').first().waitFor();
  });
  await fresh.close();
  return { first, second };
}

export async function wireFigures(running: Running): Promise<Figure[]> {
  const { login, copies } = await benchClass(running, 1, 0);
  const student = login.replace('t-', 's00-');
  const browser = await launch();
  const { address } = running;
  const copy = copies[0]!.copyId;
  const pupil = await visits(browser, address, student, `/work/${copy}`);
  const teacher = await visits(browser, address, login, `/desk/${copy}`);
  await browser.close();
  return [
    atMost('script of a student’s first visit, gzip', pupil.first.script, 250, 'kB'),
    atMost('script of a teacher’s first visit, up to the desk, gzip', teacher.first.script, 350, 'kB'),
    atMost('the app on a student’s next visit', pupil.second.app, 2, 'kB'),
    atMost('the app on a teacher’s next visit', teacher.second.app, 2, 'kB'),
  ];
}
