import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import type { Running } from '@jotmark/server';
import { type Browser, type BrowserContext, chromium, type Page } from '@playwright/test';
import express from 'express';
import { PASSWORD } from './school.ts';

export function launch(): Promise<Browser> {
  return chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  });
}

/** A context for measuring in. tsx names functions with a helper that pages do not have. */
export async function context(browser: Browser): Promise<BrowserContext> {
  const made = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await made.addInitScript('globalThis.__name = (f) => f');
  return made;
}

export async function signedIn(browser: Browser, running: Running, login: string): Promise<Page> {
  const page = await (await context(browser)).newPage();
  await page.goto(running.address);
  await page.getByLabel('Login').fill(login);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.getByRole('button', { name: 'Sign out' }).waitFor();
  return page;
}

/** Serves the bare baselines, and one PDF beside them. */
export async function serveBare(pdf: Uint8Array): Promise<{ address: string; server: Server }> {
  const app = express();
  app.use(express.static(fileURLToPath(new URL('../.test/bench-bare', import.meta.url))));
  app.get('/page.pdf', (_req, res) => res.type('application/pdf').send(Buffer.from(pdf)));
  const server = createServer(app);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return { address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, server };
}
