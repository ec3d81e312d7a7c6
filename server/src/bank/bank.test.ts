import { type HandInId, makeId, type Phrase, type PhraseId, type PhraseInput } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { PhraseTable, PhraseUseTable } from '../database/entities/index.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { type Caller, testServer } from '../testing/house.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

let n = 1;
const phrase = (words: string, over: Partial<PhraseInput> = {}): PhraseInput => ({
  id: makeId(1_790_000_000_000 + n++, crypto.getRandomValues(new Uint8Array(10))) as PhraseId,
  words,
  group: '',
  focus: null,
  ...over,
});
const keep = (caller: Caller, ...phrases: PhraseInput[]) => caller.call('keepPhrases', { body: { phrases } });
const bankOf = async (caller: Caller) => (await caller.call('bank')).body as unknown as Phrase[];
const says = (bank: readonly Phrase[]) => bank.map((p) => p.words);

describe('a comment bank', () => {
  test('keeps phrases in the order they came, changes them in their place, counts what is sent twice once', async () => {
    const { teacherCaller: me } = await handedIn(running);
    const [a, b] = [phrase('Along first', { group: 'Maps', focus: 'method' }), phrase('  Count again.  ')];
    expect((await keep(me, a, b)).status).toBe(200);
    expect((await keep(me, a)).status).toBe(200);
    expect(await bankOf(me)).toEqual([
      { ...a, uses: 0, usedAt: null },
      { ...b, words: 'Count again.', uses: 0, usedAt: null },
    ]);
    await keep(me, phrase('Last'), { ...a, words: 'Along, then up', group: '' });
    expect(says(await bankOf(me))).toEqual(['Along, then up', 'Count again.', 'Last']);
    const { body } = await me.call('removePhrase', { params: { phraseId: b.id } });
    expect(says(body as unknown as Phrase[])).toEqual(['Along, then up', 'Last']);
    expect((await me.call('removePhrase', { params: { phraseId: b.id } })).status).toBe(404);
  });

  test('is its teacher’s alone: nobody else reads it, changes it, takes out of it, or counts in it', async () => {
    const mine = await handedIn(running);
    const theirs = await handedIn(running);
    const p = phrase('Mine');
    await keep(mine.teacherCaller, p);
    expect(says(await bankOf(theirs.teacherCaller))).toEqual([]);
    expect((await keep(theirs.teacherCaller, phrase('New'), { ...p, words: 'Theirs' })).status).toBe(404);
    await theirs.teacherCaller.call('removePhrase', { params: { phraseId: p.id } });
    const use = (caller: Caller, handInId: HandInId) =>
      caller.call('usePhrase', { params: { handInId, phraseId: p.id } });
    expect((await use(theirs.teacherCaller, theirs.handInId)).status).toBe(404);
    expect((await use(mine.teacherCaller, theirs.handInId)).status).toBe(404);
    expect(says(await bankOf(mine.teacherCaller))).toEqual(['Mine']);
    // All or none: the new one beside the other's was not kept either.
    expect(says(await bankOf(theirs.teacherCaller))).toEqual([]);
  });

  test('counts each use, how often and where, also when several come at once', async () => {
    const { teacherCaller: me, handInId } = await handedIn(running);
    const p = phrase('Count the squares again.');
    await keep(me, p);
    const use = () => me.call('usePhrase', { params: { handInId, phraseId: p.id } });
    const answers = await Promise.all(Array.from({ length: 12 }, use));
    expect(answers.map((a) => a.status)).toEqual(Array(12).fill(200));
    const [kept] = await bankOf(me);
    expect(kept!.uses).toBe(12);
    expect(kept!.usedAt).toBeGreaterThan(Date.now() - 60_000);
    expect(await running.house.db.getRepository(PhraseUseTable).countBy({ handInId })).toBe(12);
  });

  test('two windows that fill it at once fill it no further than it holds', async () => {
    const { teacherCaller: me, teacher } = await handedIn(running);
    const { db } = running.house;
    const rows = Array.from({ length: 4990 }, (_, i) => {
      const { id } = phrase('');
      return {
        id,
        ownerId: teacher.id,
        words: `w${i}`,
        inGroup: '',
        focus: null,
        uses: 0,
        usedAt: null,
        createdAt: i,
      };
    });
    for (let i = 0; i < rows.length; i += 500)
      await db
        .createQueryBuilder()
        .insert()
        .into(PhraseTable)
        .values(rows.slice(i, i + 500))
        .execute();
    const eight = () => keep(me, ...Array.from({ length: 8 }, (_, i) => phrase(`late ${i}`)));
    const both = await Promise.all([eight(), eight()]);
    expect(both.map((r) => r.status).sort()).toEqual([200, 409]);
    expect(await bankOf(me)).toHaveLength(4998);
  });

  test.each([
    ['no words', { words: '   ' }],
    ['too many words', { words: 'x'.repeat(4001) }],
    ['a group with a name too long', { group: 'x'.repeat(61) }],
    ['an id that is none', { id: 'mine' as PhraseId }],
  ])('%s is refused, and nothing is kept', async (_, over) => {
    const { teacherCaller: me } = await handedIn(running);
    expect((await keep(me, phrase('Good'), { ...phrase('Odd'), ...over })).status).toBe(400);
    expect(await bankOf(me)).toEqual([]);
  });

  test('scripts, signs, right-to-left and faces are words like others', async () => {
    const { teacherCaller: me } = await handedIn(running);
    const all = ['<script>alert(1)</script>', 'שלום, ספור שוב', '👏🏽 well seen', "'; DROP TABLE phrase; --"];
    await keep(me, ...all.map((w) => phrase(w)));
    expect(says(await bankOf(me))).toEqual(all);
  });

  test('more at once than a list may have are refused before they are read', async () => {
    const { teacherCaller: me } = await handedIn(running);
    expect((await keep(me, ...Array.from({ length: 201 }, () => phrase('x')))).status).toBe(400);
  });
});
