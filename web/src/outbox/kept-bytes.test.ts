import { type Change, type Digest, VOICE_PART } from '@jotmark/core';
import { afterEach, expect, test, vi } from 'vitest';
import { BytesToSend } from './kept-bytes.ts';

const file = 'b'.repeat(64) as Digest;
const said = {
  file,
  type: 'audio/ogg' as const,
  ms: 1000,
  peaks: [],
  captions: [],
};
const change = { type: 'write', field: 'voice', value: said } as unknown as Change;
const bytes = new Uint8Array(2 * VOICE_PART + 10).map((_, i) => i % 251).buffer;

/** A server that has some parts; it forgets nothing, and the network may break. */
const server = vi.hoisted(() => ({ there: new Set<number>(), asked: [] as number[], breaks: 0 }));
vi.mock('../api/call.ts', () => ({
  call: async (_: string, { body }: { body: { n: number; of: number; base64: string } }) => {
    server.asked.push(body.n);
    if (server.breaks-- > 0) throw new Error('no network');
    server.there.add(body.n);
    return { missing: Array.from({ length: body.of }, (_, i) => i).filter((i) => !server.there.has(i)) };
  },
}));
afterEach(() => {
  server.there.clear();
  server.asked.length = 0;
  server.breaks = 0;
});

test('bytes go in parts before the change that names them, each once, and are forgotten then', async () => {
  const waiting = new BytesToSend(async () => null);
  await waiting.keep(file, { type: 'audio/ogg', bytes });
  expect((await waiting.find(file))?.bytes.byteLength).toBe(bytes.byteLength);
  await waiting.sendFor([change, change]);
  expect(server.asked).toEqual([0, 1, 2]);
  expect(await waiting.find(file)).toBeNull();
  await waiting.sendFor([change]);
  expect(server.asked).toHaveLength(3);
});

test('a network that breaks ten times costs the part it broke in; nothing that arrived travels again but the first', async () => {
  const waiting = new BytesToSend(async () => null);
  await waiting.keep(file, { type: 'audio/ogg', bytes });
  server.there.add(1);
  for (let i = 0; i < 10; i++) {
    server.breaks = 1;
    await expect(waiting.sendFor([change])).rejects.toThrow('no network');
    // It is here until the server has all of it.
    expect(await waiting.find(file)).not.toBeNull();
  }
  server.breaks = 0;
  server.asked.length = 0;
  await waiting.sendFor([change]);
  expect(server.asked).toEqual([0, 2]);
  expect(await waiting.find(file)).toBeNull();
});
