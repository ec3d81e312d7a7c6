import { randomBytes } from 'node:crypto';
import { type ChangeId, type CopyChange, type DocumentId, makeId, replayText } from '@jotmark/core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import * as Y from 'yjs';
import { addWorksheet } from '../assignment/materials.ts';
import { setAssignment } from '../assignment/set.ts';
import type { Running } from '../serve.ts';
import { Caller, type Loose, readingDone, smallClass, testServer } from '../testing/house.ts';
import { note } from '../testing/marks.ts';
import { madeWorksheet, question, worksheetRead } from '../testing/worksheets.ts';
import { FIELD } from './read-text.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 2 });
});
afterAll(() => running.stop());

const id = () => makeId(Date.now(), randomBytes(10)) as ChangeId;

/** A browser's text: what is written into it comes out as updates. */
class Writing {
  readonly doc = new Y.Doc();
  #from = Y.encodeStateVector(this.doc);

  merge(update: string): this {
    Y.applyUpdate(this.doc, new Uint8Array(Buffer.from(update, 'base64')));
    this.#from = Y.encodeStateVector(this.doc);
    return this;
  }
  block(name: string, words: string, attributes: Record<string, unknown> = {}): this {
    const element = new Y.XmlElement(name);
    for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value as string);
    const text = new Y.XmlText();
    if (words) text.insert(0, words);
    element.insert(0, [text]);
    return this.put(element);
  }
  table(rows: readonly (readonly string[])[]): this {
    const within = (parent: Y.XmlElement | Y.XmlFragment, name: string): Y.XmlElement => {
      const element = new Y.XmlElement(name);
      parent.push([element]);
      return element;
    };
    const table = within(this.doc.getXmlFragment(FIELD), 'table');
    for (const cells of rows) {
      const row = within(table, 'tableRow');
      for (const words of cells)
        within(within(row, 'tableCell'), 'paragraph').insert(0, [new Y.XmlText(words)]);
    }
    return this;
  }
  put(element: Y.XmlElement): this {
    this.doc.getXmlFragment(FIELD).push([element]);
    return this;
  }
  type(block: number, at: number, words: string, form: object = {}): this {
    const element = this.doc.getXmlFragment(FIELD).get(block) as Y.XmlElement;
    (element.get(0) as Y.XmlText).insert(at, words, form);
    return this;
  }
  /** What was written since the last time. */
  update(): string {
    const update = Y.encodeStateAsUpdate(this.doc, this.#from);
    this.#from = Y.encodeStateVector(this.doc);
    return Buffer.from(update).toString('base64');
  }
}

async function essaySet() {
  const school = await smallClass(running);
  const teacher = await new Caller(running.address).signIn(school.teacher.login);
  const made = await teacher.call('startAssignment', { params: { classId: school.classId } });
  expect(made.status).toBe(200);
  const assignmentId = made.body.id as string;
  const params = { assignmentId };
  const sheet = await teacher.call('addWritingPages', { params, body: { words: 400 } });
  expect(sheet.status).toBe(200);
  const { worksheetId } = sheet.body.materials[0];
  await worksheetRead(teacher, worksheetId);
  const saved = await teacher.call('saveAssignment', {
    params,
    body: {
      words: { ...sheet.body.words, title: 'The tarn' },
      revision: sheet.body.revision,
      audience: { alsoClasses: [], students: null },
      news: null,
    },
  });
  expect(saved.body.error ?? null).toBeNull();
  await teacher.call('setAssignment', { params, body: { opensAt: null } });
  return rest(school, teacher, assignmentId);
}

async function rest(school: Loose, teacher: Caller, assignmentId: string) {
  const ada = await new Caller(running.address).signIn(school.students[0].login);
  const ben = await new Caller(running.address).signIn(school.students[1].login);
  const { body: list } = await ada.call('workList');
  const copyId = list.find((r: Loose) => r.assignment.id === assignmentId).copyId as string;
  const { body: work } = await ada.call('work', { params: { copyId } });
  const q = work.sheets[0].questions.find((x: Loose) => x.answer.kind === 'long');
  const send = async (update: string, more: object = {}) => {
    const change = { id: id(), base: null, type: 'text', question: q.id, update, ...more } as CopyChange;
    const { body } = await ada.call('sendCopyChanges', { params: { copyId }, body: { changes: [change] } });
    return { change, outcome: body.results?.[0]?.reason ?? body.results?.[0]?.outcome ?? body.error.code };
  };
  return { ...school, teacher, ada, ben, assignmentId, copyId, q, send, work };
}

async function wordsOf(caller: Caller, documentId: string): Promise<string> {
  const { body } = await caller.call('documentText', { params: { documentId } });
  return body.flatMap((p: Loose) => p.words.map((w: Loose) => w.text)).join(' ');
}

const look = async (h: Loose) => (await h.teacher.call('closeLook', { params: { copyId: h.copyId } })).body;

describe('a text that grows', () => {
  test('pages to write on are a worksheet of one question that fills its page; about how many words is wished for', async () => {
    const h = await essaySet();
    expect(h.work.sheets).toMatchObject([
      { name: 'Pages to write on', questions: [{ answer: { kind: 'long', words: 400 } }] },
    ]);
    expect(h.work.state.texts).toEqual([]);
  });

  test('what is written is merged, stands as an answer of the copy for who looks on, and every step is in the trail', async () => {
    const h = await essaySet();
    const w = new Writing().block('heading', 'The tarn', { level: 2 });
    expect((await h.send(w.update())).outcome).toBe('applied');
    await h.send(w.block('paragraph', 'It is deep').update());
    const last = await h.send(w.type(1, 10, ' and cold.', { bold: {} }).update(), { pasted: 10 });
    const again = await h.ada.call('sendCopyChanges', {
      params: { copyId: h.copyId },
      body: { changes: [last.change] },
    });
    expect(again.body.results[0].outcome).toBe('already');
    const seen = await look(h);
    expect(seen.written).toEqual([
      {
        question: h.q.id,
        text: {
          type: 'doc',
          content: [
            { type: 'heading', level: 2, content: [{ text: 'The tarn' }] },
            { type: 'paragraph', content: [{ text: 'It is deep' }, { text: ' and cold.', bold: true }] },
          ],
        },
      },
    ]);
    expect(seen.row.answers).toMatchObject([{ question: h.q.id, text: 'The tarn\nIt is deep and cold.' }]);
    const { body } = await h.ada.call('trail', { params: { copyId: h.copyId } });
    const read = body.trail.lines.reduce((now: string, l: Loose) => replayText(now, l.step), '');
    expect(read).toBe('The tarn\nIt is deep and cold.');
    expect(body.trail.lines.at(-1).step[4]).toBe(10);
    const [{ by_id: by }] = await running.house.db.query(
      'SELECT by_id FROM copy_trail WHERE copy_id = ? LIMIT 1',
      [h.copyId],
    );
    expect(by).toBe(h.students[0].id);
  });

  test('two windows that write in one sentence at once lose nothing, and both read the same', async () => {
    const h = await essaySet();
    const one = new Writing().block('paragraph', 'The tarn is cold.');
    const start = one.update();
    await h.send(start);
    const two = new Writing().merge(start);
    const [a, b] = [one.type(0, 12, 'very ').update(), two.type(0, 17, ' Nobody swims.').update()];
    const replies = await Promise.all([h.send(a), h.send(b)]);
    expect(replies.map((r) => r.outcome)).toEqual(['applied', 'applied']);
    const { body } = await h.ada.call('work', { params: { copyId: h.copyId } });
    const read = new Writing().merge(body.state.texts[0].update);
    expect(read.doc.getXmlFragment(FIELD).toString()).toContain('The tarn is very cold. Nobody swims.');
    const since = await h.ada.call('copyChangesSince', { params: { copyId: h.copyId }, query: '?after=1' });
    expect(since.body.changes.map((c: Loose) => c.type)).toEqual(['text', 'text']);
  });

  test('what is no text, is for another kind of answer, or comes when it is handed in, is refused; what stands is kept', async () => {
    const h = await essaySet();
    await h.send(new Writing().block('paragraph', 'Here.').update());
    expect((await h.send(Buffer.from('nonsense that is no update').toString('base64'))).outcome).toBe(
      'no-text',
    );
    const wrong = await h.ada.call('sendCopyChanges', {
      params: { copyId: h.copyId },
      body: {
        changes: [{ id: id(), base: null, type: 'answer', question: h.q.id, value: 'x', was: '' }],
      },
    });
    expect(wrong.body.results[0].reason).toBe('no-text');
    const other = await h.ada.call('sendCopyChanges', {
      params: { copyId: h.copyId },
      body: { changes: [{ id: id(), base: null, type: 'text', question: id(), update: 'AAA=' }] },
    });
    expect(other.body.results[0].reason).toBe('no-such-question');
    expect(
      (
        await h.ada.call('sendCopyChanges', {
          params: { copyId: h.copyId },
          body: { changes: [{ id: id(), base: null, type: 'text', question: h.q.id, update: '§' }] },
        })
      ).status,
    ).toBe(400);
    expect((await h.ada.handIn(h.copyId)).status).toBe(200);
    expect((await h.send(new Writing().block('paragraph', 'Late.').update())).outcome).toBe('handed-in');
    expect((await look(h)).row.answers[0].text).toBe('Here.');
  });

  test('its pieces are put together by a job: the same text, and a window that was away gets all of it', async () => {
    const h = await essaySet();
    const w = new Writing().block('paragraph', '');
    await h.send(w.update());
    for (let from = 0; from < 320; from += 20) {
      const changes = Array.from({ length: 20 }, (_, i) => ({
        id: id(),
        base: null,
        type: 'text',
        question: h.q.id,
        update: w.type(0, from + i, String.fromCharCode(97 + (i % 26))).update(),
      }));
      await h.ada.call('sendCopyChanges', { params: { copyId: h.copyId }, body: { changes } });
    }
    const rows = async () =>
      Number(
        (
          await running.house.db.query('SELECT COUNT(*) AS n FROM copy_text_update WHERE copy_id = ?', [
            h.copyId,
          ])
        )[0].n,
      );
    await expect.poll(rows, { timeout: 20_000 }).toBeLessThan(60);
    const { body } = await h.ada.call('copyChangesSince', {
      params: { copyId: h.copyId },
      query: '?after=5',
    });
    const read = new Writing().merge(w.update());
    for (const c of body.changes) read.merge(c.update);
    expect(read.doc.getXmlFragment(FIELD).toString().length).toBeGreaterThan(320);
    // And it is written on as if nothing had been.
    expect((await h.send(w.type(0, 0, 'Z').update())).outcome).toBe('applied');
    expect((await look(h)).row.answers[0].text.startsWith('Zabc')).toBe(true);
  });

  test('handed in it is frozen as pages: headings, a list, a table, a formula and a picture, the words found where they stand', async () => {
    const h = await essaySet();
    const png = await sharp({ create: { width: 900, height: 600, channels: 3, background: '#357' } })
      .png()
      .toBuffer();
    const sent = await h.ada.send(`/api/work/${h.copyId}/pictures`, [['The tarn.png', new Uint8Array(png)]]);
    expect(sent.status).toBe(200);
    const picture = sent.body.id as DocumentId;
    const w = new Writing().block('heading', 'The tarn', { level: 2 });
    for (let i = 0; i < 70; i++)
      w.block('paragraph', `Sentence number ${i} about the cold water and the wind.`);
    const image = new Y.XmlElement('image');
    image.setAttribute('src', `document:${picture}`);
    image.setAttribute('wide', '900');
    image.setAttribute('high', '600');
    w.put(image).block('paragraph', 'Then $x^2$ is $\\frac{1}{2}$, last.');
    w.table([['Depth', '12 m']]);
    await h.send(w.update());
    const { body } = await h.ada.handIn(h.copyId);
    const [document] = body.handIn.documents;
    expect(await readingDone(h.ada, document.id)).toBe('done');
    const words = await wordsOf(h.teacher, document.id);
    for (const part of ['The tarn', 'Sentence number 69', 'Depth', '12 m', 'x^2'])
      expect(words).toContain(part);
    const { body: desk } = await h.teacher.call('desk', { params: { copyId: h.copyId } });
    const pages = desk.documents[0].pages;
    expect(pages).toBe(3);
    expect(desk.asked[0].flows).toEqual([{ question: h.q.id, page: 1, pages: 2 }]);
    expect(desk.answers[0].value).toContain('Sentence number 69');
    const [frozen] = await running.house.db.query('SELECT content FROM hand_in WHERE copy_id = ?', [
      h.copyId,
    ]);
    expect(JSON.parse(frozen.content).sheets[0].texts[h.q.id].content).toHaveLength(74);
  });

  test('behind a worksheet with places it has pages of its own; a stamp there counts for its question', async () => {
    const school = await smallClass(running);
    const teacher = await new Caller(running.address).signIn(school.teacher.login);
    const worksheetId = await madeWorksheet(teacher);
    const sheet = await worksheetRead(teacher, worksheetId);
    const questions = [
      question(0, { kind: 'line' }),
      question(1, { kind: 'long', words: null }, { points: 600 }),
    ];
    await teacher.call('saveQuestions', {
      params: { worksheetId },
      body: { versionId: sheet.versionId, revision: sheet.revision, questions },
    });
    const made = await teacher.call('startAssignment', { params: { classId: school.classId } });
    const assignmentId = made.body.id;
    const params = { assignmentId };
    const added = await teacher.call('addMaterialWorksheet', { params, body: { worksheetId } });
    await teacher.call('saveAssignment', {
      params,
      body: {
        words: { ...added.body.words, title: 'Both' },
        revision: added.body.revision,
        audience: { alsoClasses: [], students: null },
        news: null,
      },
    });
    await teacher.call('setAssignment', { params, body: { opensAt: null } });
    const h = await rest(school, teacher, assignmentId);
    await h.send(new Writing().block('paragraph', 'Long words.').update());
    const { body } = await h.ada.handIn(h.copyId);
    await readingDone(h.ada, body.handIn.documents[0].id);
    const { body: desk } = await teacher.call('desk', { params: { copyId: h.copyId } });
    expect(desk.documents[0].pages).toBe(2);
    expect(desk.asked[0].flows).toEqual([{ question: h.q.id, page: 1, pages: 1 }]);
  });

  test('what students note on their own copy, to a spot and to words, is numbered on the pages, written behind them, and told at the desk', async () => {
    const school = await smallClass(running);
    const teacher = await new Caller(running.address).signIn(school.teacher.login);
    const worksheetId = await madeWorksheet(teacher);
    const sheet = await worksheetRead(teacher, worksheetId);
    const questions = [question(1, { kind: 'long', words: null })];
    await teacher.call('saveQuestions', {
      params: { worksheetId },
      body: { versionId: sheet.versionId, revision: sheet.revision, questions },
    });
    const { id: assignmentId } = await setAssignment(
      running.house,
      { classId: school.classId, title: 'Notes', instructions: '', dueAt: null, most: null },
      (a) => addWorksheet(running.house, a, worksheetId as never),
    );
    const h = await rest(school, teacher, assignmentId);
    const w = new Writing().block('paragraph', 'It is ');
    w.type(0, 6, 'deep', { note: { words: 'Nobody measured it.' } });
    await h.send(w.update());
    const put = (more: object) =>
      h.ada.call('sendCopyChanges', {
        params: { copyId: h.copyId },
        body: {
          changes: [
            {
              id: id(),
              base: null,
              type: 'put',
              was: null,
              mark: {
                ...note(sheet.document.id, 'Why it stands here.', { colour: 'graphite', focus: null }),
                place: { on: 'spot', x: 200, y: 300 },
                ...more,
              },
            },
          ],
        },
      });
    expect((await put({})).body.results[0].outcome).toBe('applied');
    // Points and answers are the teacher's.
    expect((await put({ id: id(), points: 100 })).body.results[0].reason).toBe('not-yours');
    const { body } = await h.ada.handIn(h.copyId);
    const documentId = body.handIn.documents[0].id;
    await readingDone(h.ada, documentId);
    const words = await wordsOf(teacher, documentId);
    for (const part of ['Nobody measured it.', 'Why it stands here.', 'The student’s own notes'])
      expect(words).toContain(part);
    const { body: desk } = await teacher.call('desk', { params: { copyId: h.copyId } });
    expect(desk.asked[0].notes).toMatchObject([
      { page: 0, x: 200, y: 300, words: 'Why it stands here.' },
      { page: 1, words: 'Nobody measured it.' },
    ]);
    expect(desk.marking.marks).toEqual([]);
  });

  test('a picture that is none is refused; the text of a copy is nobody else’s', async () => {
    const h = await essaySet();
    const none = await h.ada.send(`/api/work/${h.copyId}/pictures`, [
      ['a.txt', new TextEncoder().encode('words')],
    ]);
    expect(none.body.error?.code ?? none.status).toBe('not-a-picture');
    const { copyId } = h;
    expect((await h.ben.send(`/api/work/${copyId}/pictures`, [['a.txt', new Uint8Array(3)]])).status).toBe(
      404,
    );
    expect((await h.ben.call('work', { params: { copyId } })).status).toBe(404);
    expect((await h.ben.call('copyChangesSince', { params: { copyId }, query: '?after=0' })).status).toBe(
      404,
    );
  });

  test('a text of a hundred thousand words, a table of 500 rows and a paste in another direction are taken and become pages', async () => {
    const h = await essaySet();
    const w = new Writing();
    const sentence = 'The water of the tarn is cold in spring, and nobody swims there. ';
    for (let i = 0; i < 560; i++) w.block('paragraph', sentence.repeat(14));
    w.block('paragraph', 'שלום means peace, and سلام too.');
    w.table(Array.from({ length: 500 }, (_, r) => [`row ${r}`]));
    expect((await h.send(w.update())).outcome).toBe('applied');
    const { body } = await h.ada.handIn(h.copyId);
    expect(await readingDone(h.ada, body.handIn.documents[0].id)).toBe('done');
    const { body: desk } = await h.teacher.call('desk', { params: { copyId: h.copyId } });
    expect(desk.documents[0].pages).toBeGreaterThan(200);
  });

  test('a text that is full takes no more, and says so', async () => {
    const h = await essaySet();
    const w = new Writing().block('paragraph', 'word '.repeat(150_000));
    expect((await h.send(w.update())).outcome).toBe('applied');
    expect((await h.send(w.type(0, 0, 'x').update())).outcome).toBe('text-full');
  });
});
