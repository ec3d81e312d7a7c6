import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import {
  type DocumentId,
  fileLink,
  type MarkId,
  type Message,
  type NoteMark,
  STARTER_FOCUSES,
} from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { newId } from '../house.ts';
import type { Running } from '../serve.ts';
import { arriveNow } from '../tasks/arrive.ts';
import { handedIn } from '../testing/handed-in.ts';
import { type Caller, testServer } from '../testing/house.ts';
import { closing, done, note, put } from '../testing/marks.ts';
import { plainPdf } from '../testing/pdfs.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

type Handed = Awaited<ReturnType<typeof handedIn>>;
const handBack = (h: Handed) =>
  h.teacherCaller.call('handBack', {
    params: { assignmentId: h.assignmentId },
    body: { copyIds: [h.copyId] },
  });
const at = (h: Handed, mark: MarkId) => ({ document: h.documentId, page: 0, x: 10, y: 10, mark });
const say = (caller: Caller, h: Handed, body: object) =>
  caller.call('say', { params: { copyId: h.copyId }, body: { id: newId(running.house), ...body } });
const messages = async (caller: Caller, h: Handed) =>
  (await caller.call('messages', { params: { copyId: h.copyId } })).body.messages as Message[];

describe('what is said at a mark', () => {
  test('is answered, acted on, answered again; each side sees what the other has read', async () => {
    const h = await handedIn(running);
    const mark = note(h.documentId, 'Why?') as NoteMark;
    await h.send(put(mark), done(true));
    await handBack(h);
    expect((await say(h.student, h, { words: 'Because.', place: at(h, mark.id) })).status).toBe(200);
    expect((await say(h.student, h, { words: '', act: 'sorted', place: at(h, mark.id) })).status).toBe(200);
    expect((await say(h.student, h, { words: '  ', place: at(h, mark.id) })).status).toBe(400);
    expect((await messages(h.student, h)).map((m) => [m.words, m.act, m.seenAt !== null])).toEqual([
      ['Because.', null, false],
      ['', 'sorted', false],
    ]);
    const heard = await messages(h.teacherCaller, h);
    expect(heard.map((m) => [m.place?.mark, m.unread])).toEqual([
      [mark.id, true],
      [mark.id, true],
    ]);
    // What was only done asks nobody to read it.
    expect((await h.teacherCaller.call('unread', {})).body).toMatchObject([{ words: 'Because.' }]);
    await h.teacherCaller.call('readMessages', { params: { copyId: h.copyId }, body: { at: Date.now() } });
    expect((await messages(h.student, h)).map((m) => m.seenAt !== null)).toEqual([true, true]);
    await say(h.teacherCaller, h, { words: 'Look again.', act: 'reopened', place: at(h, mark.id) });
    expect((await messages(h.student, h)).at(-1)).toMatchObject({
      act: 'reopened',
      unread: true,
      mine: false,
    });
  });

  test.each([
    ['a change of words that are not quoted', { instead: { kind: 'swap', words: 'x' } }],
    ['a place far from any page', { x: 99_999 }],
    ['a mark that is no id', { mark: 'mine' }],
  ])('%s is refused', async (_, over) => {
    const h = await handedIn(running);
    const mark = newId<MarkId>(running.house);
    expect((await say(h.student, h, { words: 'x', place: { ...at(h, mark), ...over } })).status).toBe(400);
    expect(await messages(h.student, h)).toEqual([]);
  });
});

describe('a file beside words', () => {
  const fileBy = async (h: Handed): Promise<DocumentId> => {
    const path = join(mkdtempSync(join(tmpdir(), 'jotmark-help-')), 'help.pdf');
    writeFileSync(path, await plainPdf(['How to read a grid']));
    const arrived = await arriveNow(running.house, running.opener, { at: 'help', ownerId: h.teacher.id }, [
      { path, name: 'help.pdf' },
    ]);
    rmSync(dirname(path), { recursive: true });
    return arrived.documentId;
  };
  const sees = async (caller: Caller, documentId: DocumentId) =>
    (await caller.call('documentPages', { params: { documentId } })).status;

  test('is seen by the student from handing back on, and by no other', async () => {
    const h = await handedIn(running);
    const other = await handedIn(running);
    const file = await fileBy(h);
    await h.send(put(note(h.documentId, `See ${fileLink('help', file)}`)), done(true));
    expect(await sees(h.student, file)).toBe(404);
    await handBack(h);
    expect(await sees(h.student, file)).toBe(200);
    expect(await sees(other.student, file)).toBe(404);
    expect(await sees(other.teacherCaller, file)).toBe(404);
  });

  test('of somebody else is not given away by naming it', async () => {
    const h = await handedIn(running);
    const other = await handedIn(running);
    const file = await fileBy(other);
    await h.send(closing(fileLink('theirs', file)), done(true));
    await handBack(h);
    await say(h.teacherCaller, h, { words: fileLink('theirs', file) });
    expect(await sees(h.student, file)).toBe(404);
  });

  test('goes along with a message at once', async () => {
    const h = await handedIn(running);
    const file = await fileBy(h);
    await say(h.teacherCaller, h, { words: `Now: ${fileLink('help', file)}` });
    expect(await sees(h.student, file)).toBe(200);
  });
});

describe('focuses', () => {
  test('are one’s own; pens and phrases go with one that is called otherwise', async () => {
    const { teacherCaller: me } = await handedIn(running);
    const other = (await handedIn(running)).teacherCaller;
    expect((await me.call('focuses')).body).toEqual(STARTER_FOCUSES);
    const phrase = {
      id: newId(running.house),
      words: 'x',
      group: '',
      focus: 'wording',
      points: null,
      colour: null,
      key: null,
    };
    await me.call('keepPhrases', { body: { phrases: [phrase] } });
    const mine = [{ name: 'spelling', colour: 'plum', sign: 'diamond' }];
    const kept = await me.call('keepFocuses', {
      body: { focuses: mine, renamed: [{ from: 'wording', to: 'spelling' }] },
    });
    expect(kept.body).toEqual(mine);
    expect((await me.call('bank')).body.phrases).toMatchObject([{ focus: 'spelling' }]);
    const pens = (await me.call('trays')).body.trays[0].pens as { focus?: string }[];
    expect(pens.filter((p) => p.focus === 'spelling').length).toBeGreaterThan(0);
    expect(pens.filter((p) => p.focus === 'wording')).toEqual([]);
    expect((await other.call('focuses')).body).toEqual(STARTER_FOCUSES);
  });

  test('two of one name are refused', async () => {
    const { teacherCaller: me } = await handedIn(running);
    const one = { name: 'a', colour: 'plum', sign: 'disc' };
    expect((await me.call('keepFocuses', { body: { focuses: [one, one], renamed: [] } })).status).toBe(400);
  });
});
