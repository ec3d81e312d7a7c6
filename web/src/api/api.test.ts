import { ErrorCode, routes } from '@jotmark/core';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { addressOf, CallFailed, call, takeToken } from './call.ts';
import { sentenceOf } from './sentences.ts';

afterEach(() => vi.unstubAllGlobals());

const answer = (status: number, body: unknown) =>
  vi.fn(async () => new Response(JSON.stringify(body), { status }));

describe('calling the contract', () => {
  test('fills the address in and escapes what it is given', () => {
    expect(addressOf('desk', { copyId: 'a/b' })).toBe('/api/desk/a%2Fb');
    expect(addressOf('documentText', { documentId: 'x' })).toBe('/api/documents/x/text');
  });

  test('sends the token with changes and with nothing else', async () => {
    const fetch = answer(200, { ok: true });
    vi.stubGlobal('fetch', fetch);
    takeToken({ token: 'ours' });
    await call('signOut');
    await call('health');
    const headers = (fetch.mock.calls as unknown as [string, { headers: Record<string, string> }][]).map(
      ([, init]) => init.headers['x-jotmark-token'],
    );
    expect(headers).toEqual(['ours', undefined]);
  });

  test('a refusal carries the server’s code and facts, silence is offline, nonsense is unexpected', async () => {
    vi.stubGlobal('fetch', answer(413, { error: { code: 'file-too-big', facts: { most: 5 } } }));
    await expect(call('today')).rejects.toMatchObject({ code: 'file-too-big', facts: { most: 5 } });
    vi.stubGlobal('fetch', async () => Promise.reject(new TypeError('network')));
    await expect(call('today')).rejects.toMatchObject({ code: 'offline' });
    vi.stubGlobal('fetch', async () => new Response('<html>', { status: 502 }));
    await expect(call('today')).rejects.toMatchObject({ code: 'unexpected' });
  });

  test('every route has an address under /api', () => {
    for (const [name, route] of Object.entries(routes)) expect(route.path, name).toMatch(/^\/api\//);
  });
});

describe('sentences', () => {
  test.each(ErrorCode.options)('%s has one that ends as a sentence and names no code', (code) => {
    const said = sentenceOf(
      new CallFailed(code, { name: 'map.pdf', most: 52_428_800, pages: 5000, minutes: 15 }),
    );
    expect(said).toMatch(/[.;]$/);
    expect(said.length).toBeGreaterThan(40);
    expect(said).not.toContain(code === 'busy' ? 'ENOSPC' : code);
  });

  test('a file’s sentence names the file and its limit', () => {
    expect(sentenceOf(new CallFailed('file-too-big', { name: 'map.pdf', most: 50 * 1024 * 1024 }))).toContain(
      '“map.pdf” is larger than 50 MB',
    );
    expect(
      sentenceOf(new CallFailed('file-too-many-pages', { name: 'map.pdf', pages: 5000, most: 500 })),
    ).toContain('5000 pages; at most 500');
  });

  test('what is no code of ours is called unexpected', () => {
    expect(sentenceOf(new Error('boom'))).toContain('Something went wrong inside Jotmark');
  });
});
