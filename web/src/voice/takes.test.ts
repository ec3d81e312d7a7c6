import 'fake-indexeddb/auto';
import type { CopyId, HandInId, PersonId } from '@jotmark/core';
import { expect, test } from 'vitest';
import { type Take, Takes } from './takes.ts';

const take = (id: string, person = 'p1'): Take => ({
  id,
  personId: person as PersonId,
  copyId: 'c' as CopyId,
  handInId: 'h' as HandInId,
  place: { of: 'copy', was: null, base: null },
  startedAt: 1,
  clip: null,
  talk: { made: [], seen: [] },
  captions: [],
});

test('a take has its parts in order however many there are, and goes with all of them', async () => {
  const kept = await Takes.open('takes-test');
  await kept.keep(take('a'));
  await kept.keep(take('b'));
  for (const n of [0, 1, 2, 10, 11, 3]) await kept.keepPart('a', n, Uint8Array.of(n).buffer);
  await kept.keepPart('b', 0, Uint8Array.of(99).buffer);
  const parts = await kept.parts('a');
  expect(parts.map((p) => new Uint8Array(p)[0])).toEqual([0, 1, 2, 3, 10, 11]);
  // Renewed as it goes on.
  await kept.keep({ ...take('a'), captions: [{ at: 5, words: 'Look here.' }] });
  expect((await kept.find('a'))?.captions).toHaveLength(1);
  await kept.forget('a');
  expect((await kept.all()).map((t) => t.id)).toEqual(['b']);
  expect(await kept.parts('a')).toEqual([]);
  expect(await kept.parts('b')).toHaveLength(1);
});
