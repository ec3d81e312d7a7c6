import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliDecompressSync, gunzipSync } from 'node:zlib';
import express from 'express';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { Fault } from '../fault.ts';
import { squeezed } from './squeezed.ts';
import { webApp } from './web-app.ts';

const script = `console.log(${JSON.stringify('the way over the hill '.repeat(200))})`;
let server: Server;
let address = '';

beforeAll(async () => {
  const { squeeze } = (await import(new URL('../../../scripts/squeeze.mjs', import.meta.url).href)) as {
    squeeze(dir: string): void;
  };
  const dir = mkdtempSync(join(tmpdir(), 'jotmark-web-'));
  mkdirSync(join(dir, 'assets'));
  writeFileSync(join(dir, 'index.html'), '<!doctype html><title>x</title>');
  writeFileSync(join(dir, 'assets/app-1.js'), script);
  squeeze(dir);
  const app = express();
  app.use(squeezed());
  app.get('/api/long', (_req, res) => void res.json({ words: script }));
  app.get('/api/short', (_req, res) => void res.json({ words: 'x' }));
  app.get('/api/hints', (_req, res) => {
    res.set('Content-Type', 'text/event-stream');
    res.write(`data: ${script}\n\n`);
  });
  app.use(webApp(dir));
  app.use((error: unknown, _req: express.Request, res: express.Response, _next: express.NextFunction) => {
    res.status(error instanceof Fault ? 404 : 500).end();
  });
  server = createServer(app);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

/** What travels, before the caller's library unpacks it. */
async function raw(path: string, encoding: string) {
  const { request } = await import('node:http');
  return new Promise<{ headers: Record<string, unknown>; status: number; bytes: Buffer }>(
    (resolve, reject) => {
      request(`${address}${path}`, { headers: { 'accept-encoding': encoding } }, (res) => {
        const parts: Buffer[] = [];
        res.on('data', (part: Buffer) => {
          parts.push(part);
          if (path === '/api/hints') res.destroy();
        });
        res.on('close', () =>
          resolve({ headers: res.headers, status: res.statusCode!, bytes: Buffer.concat(parts) }),
        );
      })
        .on('error', reject)
        .end();
    },
  );
}

test('a part of the app travels in the form it was built in, by whatever the browser reads, and is kept for good', async () => {
  const br = await raw('/assets/app-1.js', 'gzip, br');
  expect(br.headers).toMatchObject({
    'content-encoding': 'br',
    'cache-control': 'public, max-age=31536000, immutable',
    vary: 'Accept-Encoding',
  });
  expect(brotliDecompressSync(br.bytes).toString()).toBe(script);
  expect(br.bytes.length).toBeLessThan(script.length / 10);
  const gzip = await raw('/assets/app-1.js', 'gzip');
  expect(gzip.headers['content-encoding']).toBe('gzip');
  expect(gunzipSync(gzip.bytes).toString()).toBe(script);
  const plain = await raw('/assets/app-1.js', 'identity');
  expect(plain.headers['content-encoding']).toBeUndefined();
  expect(plain.bytes.toString()).toBe(script);
});

test('every address of the app is the page, asked for each time; a part that is gone is not', async () => {
  for (const path of ['/', '/desk/01a2', '/piles/x']) {
    const page = await raw(path, 'identity');
    expect(page.bytes.toString(), path).toContain('<title>x</title>');
    expect(page.headers['cache-control'], path).toBe('no-cache');
  }
  expect((await raw('/assets/app-0.js', 'br')).status).toBe(404);
  expect((await raw('/assets/gone', 'br')).status).toBe(404);
});

test('long answers are compressed; short ones are not, and hints leave at once', async () => {
  expect((await raw('/api/long', 'br')).headers['content-encoding']).toBe('br');
  expect((await raw('/api/long', 'gzip')).headers['content-encoding']).toBe('gzip');
  expect((await raw('/api/short', 'br')).headers['content-encoding']).toBeUndefined();
  const hints = await raw('/api/hints', 'gzip, br');
  expect(hints.headers['content-encoding']).toBeUndefined();
  expect(hints.bytes.toString()).toContain('data:');
});
