import { base64Of, digestOf } from '@jotmark/core';
import { afterEach, expect, test, vi } from 'vitest';
import { sendOlderBytes } from './older-bytes.ts';
import { readAllKept, readGestures, readKept } from './read-kept.ts';

afterEach(() => vi.unstubAllGlobals());

const ID = (n: number) => `01a21263-aab7-77a6-ad1f-cbff6ce69f${String(10 + n)}`;
const png = new Uint8Array([137, 80, 78, 71]);

/** A stamp with a picture of one's own, as the first version of Jotmark kept it in the browser: with its bytes. */
const older = {
  id: ID(1),
  base: null,
  type: 'put',
  was: null,
  mark: {
    v: 1,
    id: ID(2),
    document: ID(3),
    page: 0,
    focus: null,
    madeAt: 1_790_000_000_000,
    colour: 'garnet',
    kind: 'stamp',
    x: 10,
    y: 10,
    size: 30,
    turn: 0,
    look: { of: 'picture', name: 'owl', ratio: 1, png: base64Of(png) },
    points: null,
  },
};

test('what an older Jotmark kept is read, and its picture goes to the server before the change does', async () => {
  const change = readKept(older);
  expect(change).toMatchObject({ mark: { v: 2, look: { of: 'picture', picture: digestOf(png) } } });
  const sent: unknown[] = [];
  vi.stubGlobal('fetch', async (_: string, { body }: RequestInit) => {
    sent.push(JSON.parse(String(body)));
    return new Response(JSON.stringify({ picture: digestOf(png) }));
  });
  await sendOlderBytes([change!]);
  await sendOlderBytes([change!]);
  expect(sent).toEqual([{ base64: base64Of(png) }]);
});

test('a change that cannot be read is left out, and half a gesture is not taken back', () => {
  expect(readKept({ id: 'nonsense' })).toBeNull();
  expect(readAllKept([older, { id: 'nonsense' }])).toHaveLength(1);
  expect(readGestures([[older], [older, { id: 'nonsense' }]])).toHaveLength(1);
});
