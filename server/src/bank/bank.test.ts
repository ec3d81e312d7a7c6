import {
  type BankShape,
  type HandInId,
  type MarkId,
  makeId,
  type NoteMark,
  type Phrase,
  type PhraseId,
  type PhraseInput,
  plainPhrase,
  type QuestionId,
} from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { PhraseTable, PhraseUseTable } from '../database/entities/index.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { hear } from '../testing/hear.ts';
import { type Caller, testServer } from '../testing/house.ts';
import { done, note, put } from '../testing/marks.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

let n = 1;
const newId = <T extends string>() =>
  makeId(1_790_000_000_000 + n++, crypto.getRandomValues(new Uint8Array(10))) as T;
const phrase = (words: string, over: Partial<PhraseInput> = {}): PhraseInput => ({
  ...plainPhrase(newId<PhraseId>(), words),
  ...over,
});
const NOWHERE = { markId: null, questionId: null };
const keep = (caller: Caller, ...phrases: PhraseInput[]) => caller.call('keepPhrases', { body: { phrases } });
const bankOf = async (caller: Caller) => ((await caller.call('bank')).body as unknown as BankShape).phrases;
const says = (bank: readonly Phrase[]) => bank.map((p) => p.words);

describe('a comment bank', () => {
  test('keeps phrases in the order they came, changes them in their place, counts what is sent twice once', async () => {
    const { teacherCaller: me } = await handedIn(running);
    const [a, b] = [phrase('Along first', { group: 'Maps', focus: 'method' }), phrase('  Count again.  ')];
    expect((await keep(me, a, b)).status).toBe(200);
    expect((await keep(me, a)).status).toBe(200);
    expect(await bankOf(me)).toEqual([
      { ...a, uses: 0, usedAt: null, asked: [] },
      { ...b, words: 'Count again.', uses: 0, usedAt: null, asked: [] },
    ]);
    await keep(me, phrase('Last'), { ...a, words: 'Along, then up', group: '' });
    expect(says(await bankOf(me))).toEqual(['Along, then up', 'Count again.', 'Last']);
    const { body } = await me.call('removePhrase', { params: { phraseId: b.id } });
    expect(says((body as unknown as BankShape).phrases)).toEqual(['Along, then up', 'Last']);
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
      caller.call('usePhrase', { params: { handInId, phraseId: p.id }, body: NOWHERE });
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
    const use = () => me.call('usePhrase', { params: { handInId, phraseId: p.id }, body: NOWHERE });
    const answers = await Promise.all(Array.from({ length: 12 }, use));
    expect(answers.map((a) => a.status)).toEqual(Array(12).fill(200));
    const [kept] = await bankOf(me);
    expect(kept!.uses).toBe(12);
    expect(kept!.usedAt).toBeGreaterThan(Date.now() - 60_000);
    expect(await running.house.db.getRepository(PhraseUseTable).countBy({ handInId })).toBe(12);
    // A tab that was closed does not know whether it had told: the next one tells it again.
    const again = () =>
      me.call('usePhrase', {
        params: { handInId, phraseId: p.id },
        body: { ...NOWHERE, id: '01a21263-aab7-77a6-ad1f-cbff6ce69f0a' },
      });
    await Promise.all([again(), again()]);
    await again();
    expect((await bankOf(me))[0]!.uses).toBe(13);
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
        points: null,
        colour: null,
        favKey: null,
        asked: null,
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

  test('gives a key to one phrase only: who gets it anew takes it', async () => {
    const { teacherCaller: me } = await handedIn(running);
    const [a, b] = [phrase('One', { key: '1' }), phrase('Two', { key: '2' })];
    await keep(me, a, b);
    await keep(me, { ...b, key: '1' });
    expect((await bankOf(me)).map((p) => p.key)).toEqual([null, '1']);
  });

  test('remembers points, ink and the question it was used at', async () => {
    const { teacherCaller: me, handInId } = await handedIn(running);
    const p = phrase('Right!', { points: -50, colour: 'moss' });
    await keep(me, p);
    const questionId = newId<QuestionId>();
    for (const q of [questionId, newId<QuestionId>(), questionId])
      await me.call('usePhrase', {
        params: { handInId, phraseId: p.id },
        body: { markId: newId<MarkId>(), questionId: q },
      });
    const [kept] = await bankOf(me);
    expect(kept).toMatchObject({ points: -50, colour: 'moss', uses: 3 });
    expect(kept!.asked).toHaveLength(2);
    expect(kept!.asked[0]).toBe(questionId);
  });

  test('keeps a remark as it was written by hand, and nothing that is none', async () => {
    const { teacherCaller: me } = await handedIn(running);
    const ink: PhraseInput['ink'] = [{ points: [0, 0, 120, 900, 400, 90], width: 2, colour: 'garnet' }];
    const remark = phrase('By hand 1', { ink });
    expect((await keep(me, remark)).status).toBe(200);
    expect(await bankOf(me)).toMatchObject([{ words: 'By hand 1', ink }]);
    const wild = { ...ink[0]!, points: Array.from({ length: 6_003 }, () => 1) };
    for (const odd of [[], [{ ...ink[0]!, points: [1, 2] }], [wild], 'ink'])
      expect(
        (await keep(me, { ...remark, ink: odd as never })).status,
        JSON.stringify(odd).slice(0, 40),
      ).toBe(400);
    expect(await bankOf(me)).toMatchObject([{ ink }]);
  });

  test('has its groups in the order that is given', async () => {
    const { teacherCaller: me } = await handedIn(running);
    await keep(me, phrase('a', { group: 'A' }), phrase('b', { group: 'B' }));
    const { body } = await me.call('orderGroups', { body: { groups: ['B', 'A', 'B'] } });
    expect((body as unknown as BankShape).groups).toEqual(['B', 'A']);
    await me.call('orderGroups', { body: { groups: [] } });
    expect(((await me.call('bank')).body as unknown as BankShape).groups).toEqual([]);
  });

  test('merges phrases that say the same: one stands with the uses of all, found under it', async () => {
    const mine = await handedIn(running);
    const theirs = await handedIn(running);
    const me = mine.teacherCaller;
    const [a, b] = [phrase('Count again'), phrase('count again!', { key: '4' })];
    await keep(me, a, b);
    for (const p of [a, b, b])
      await me.call('usePhrase', { params: { handInId: mine.handInId, phraseId: p.id }, body: NOWHERE });
    const merge = (caller: Caller) =>
      caller.call('mergePhrases', { params: { phraseId: a.id }, body: { others: [b.id] } });
    expect((await merge(theirs.teacherCaller)).status).toBe(404);
    const both = await Promise.all([merge(me), merge(me)]);
    expect(both.map((r) => r.status).sort()).toEqual([200, 404]);
    expect(await bankOf(me)).toMatchObject([{ words: 'Count again', uses: 3, key: '4' }]);
    const uses = await me.call('phraseUses', { params: { phraseId: a.id } });
    expect(uses.body).toMatchObject([{ copyId: mine.copyId, back: false }]);
    expect((await theirs.teacherCaller.call('phraseUses', { params: { phraseId: a.id } })).status).toBe(404);
  });

  test('changes the comments that were made with it, where they were not handed back or changed by hand', async () => {
    const h = await handedIn(running);
    const me = h.teacherCaller;
    const p = phrase('Count [words] again.');
    await keep(me, p);
    const made = ['Count “34” again.', 'Count “34” again, please.'].map(
      (words) => note(h.documentId, words) as NoteMark,
    );
    await h.send(...made.map((m) => put(m)));
    for (const m of made)
      await me.call('usePhrase', {
        params: { handInId: h.handInId, phraseId: p.id },
        body: { markId: m.id, questionId: null },
      });
    const follow = (caller: Caller, now: string) =>
      caller.call('followPhrase', { params: { phraseId: p.id }, body: { was: p.words, now } });
    expect((await follow((await handedIn(running)).teacherCaller, 'Mine')).status).toBe(404);
    expect((await follow(me, 'Count [words] once more.')).body).toEqual({ changed: 1, left: 1 });
    const said = async () => {
      const { body } = await me.call('desk', { params: { copyId: h.copyId } });
      return body.marking.marks.map((m: { mark: NoteMark }) => m.mark.words).sort();
    };
    expect(await said()).toEqual(['Count “34” again, please.', 'Count “34” once more.']);
    await h.send(done(true));
    await me.call('handBack', { params: { assignmentId: h.assignmentId }, body: { copyIds: [h.copyId] } });
    const after = await me.call('followPhrase', {
      params: { phraseId: p.id },
      body: { was: 'Count [words] once more.', now: 'Again!' },
    });
    expect(after.body).toEqual({ changed: 0, left: 2 });
  });

  test('tells every open window within two seconds that it is another', async () => {
    const { teacherCaller: me } = await handedIn(running);
    await keep(me, phrase('First'));
    const line = await hear(me, '/api/bank/live');
    const last = () => line.hints.at(-1)?.bank ?? 0;
    await expect.poll(last, { timeout: 2000 }).toBeGreaterThan(0);
    const before = last();
    await keep(me, phrase('Second'));
    await expect.poll(last, { timeout: 2000 }).toBeGreaterThan(before);
    await line.hangUp();
  });
});
