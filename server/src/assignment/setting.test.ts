import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { DocumentTable, JobTable } from '../database/entities/index.ts';
import { find, update } from '../database/write.ts';
import type { Running } from '../serve.ts';
import { handInFor } from '../testing/handed-in.ts';
import { Caller, type Loose, readingDone, smallClass, testServer } from '../testing/house.ts';
import { done, grade } from '../testing/marks.ts';
import { plainPdf } from '../testing/pdfs.ts';
import { madeWorksheet, question, worksheetRead } from '../testing/worksheets.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({ workers: 2 }, { now: () => clock });
});
afterAll(() => running.stop());

const HOUR = 3_600_000;

async function school(students: readonly string[] = ['ada', 'ben']) {
  const s = await smallClass(running, students);
  const teacher = await new Caller(running.address).signIn(s.teacher.login);
  const pupil = (n: number) => new Caller(running.address).signIn(s.students[n]!.login);
  const draft = async () =>
    (await teacher.call('startAssignment', { params: { classId: s.classId } })).body as Loose;
  const save = (sheet: Loose, words: object, more: object = {}) =>
    teacher.call('saveAssignment', {
      params: { assignmentId: sheet.id },
      body: {
        revision: sheet.revision,
        words: { ...sheet.words, ...words },
        audience: sheet.audience,
        news: null,
        ...more,
      },
    });
  const set = (sheet: Loose, opensAt: number | null = null) =>
    teacher.call('setAssignment', { params: { assignmentId: sheet.id }, body: { opensAt } });
  const read = async (sheet: Loose) =>
    (await teacher.call('assignment', { params: { assignmentId: sheet.id } })).body as Loose;
  return { ...s, teacherCaller: teacher, pupil, draft, save, set, read };
}
const titles = async (student: Caller) =>
  (await student.call('workList')).body.map((r: Loose) => r.assignment.title);

describe('a draft', () => {
  test('is seen by nobody but its teachers, and keeps what is written', async () => {
    const s = await school();
    const sheet = await s.draft();
    const saved = await s.save(sheet, { title: 'Tides', most: 1000, dueAt: clock + HOUR });
    expect(saved.body).toMatchObject({
      stage: 'draft',
      revision: 2,
      words: { title: 'Tides', unit: 'Maps' },
    });
    expect(await titles(await s.pupil(0))).toEqual(['Map work']);
    expect((await s.teacherCaller.call('today')).body.map((p: Loose) => p.assignment.title)).not.toContain(
      'Tides',
    );
  });

  test('that was begun and left empty is in no list, and is taken up again; one in hand is not', async () => {
    const s = await school();
    const listed = async () =>
      ((await s.teacherCaller.call('assignments', { params: { classId: s.classId } })).body as Loose[]).map(
        (a) => a.id,
      );
    const before = await listed();
    const left = await s.draft();
    expect(await listed()).toEqual(before);
    // A colleague may be looking at it now.
    const other = await s.draft();
    expect(other.id).not.toBe(left.id);
    await s.save(other, { title: 'Tides' });
    expect(await listed()).toContain(other.id);
    clock += HOUR;
    expect((await s.draft()).id).toBe(left.id);
    const rows = await running.house.db.query('SELECT id FROM assignment WHERE class_id = ?', [s.classId]);
    expect(rows).toHaveLength(before.length + 2);
  });

  test('an edit made on an older state is refused and told', async () => {
    const s = await school();
    const sheet = await s.draft();
    await s.save(sheet, { title: 'One' });
    expect(await s.save(sheet, { title: 'Two' })).toMatchObject({
      status: 409,
      body: { error: { code: 'changed-elsewhere' } },
    });
    expect((await s.read(sheet)).words.title).toBe('One');
  });

  test('without a title it is not set, and nothing is handed out', async () => {
    const s = await school();
    const sheet = await s.draft();
    expect((await s.set(sheet)).body.error).toMatchObject({
      code: 'draft-incomplete',
      facts: { what: 'title' },
    });
    expect((await s.read(sheet)).stage).toBe('draft');
  });
});

describe('setting', () => {
  test('gives every student a copy at once, and only once', async () => {
    const s = await school();
    const { body: sheet } = await s.save(await s.draft(), { title: 'Tides' });
    const answers = await Promise.all([s.set(sheet), s.set(sheet)]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
    expect(answers.find((a) => a.status === 200)!.body.copies).toBe(2);
    expect(await titles(await s.pupil(1))).toContain('Tides');
  });

  test('for several classes makes a pile for each; a class of somebody else is not found', async () => {
    const s = await school();
    const second = (await s.teacherCaller.call('addClass', { body: { name: '7Y', unit: '' } })).body.id;
    await s.teacherCaller.call('addStudents', {
      params: { classId: second },
      body: { students: [{ given: 'Zoe', family: `Y${clock}`, login: null }] },
    });
    const other = await school();
    const { body: sheet } = await s.save(
      await s.draft(),
      { title: 'Tides' },
      { audience: { alsoClasses: [second], students: null } },
    );
    await s.teacherCaller.call('addMaterialLink', {
      params: { assignmentId: sheet.id },
      body: { url: 'https://shore.example/tides', name: 'Tides' },
    });
    const { body } = await s.set(sheet);
    expect(body).toMatchObject({ copies: 3 });
    const [, sibling] = body.assignmentIds;
    expect(await s.read({ id: sibling })).toMatchObject({
      classId: second,
      stage: 'open',
      materials: [{ kind: 'link', name: 'Tides', url: 'https://shore.example/tides' }],
    });
    const { body: wrong } = await s.save(
      await s.draft(),
      { title: 'X' },
      { audience: { alsoClasses: [other.classId], students: null } },
    );
    expect((await s.set(wrong)).body.error.code).toBe('not-found');
  });

  test('for chosen students leaves the others out, and those who join later', async () => {
    const s = await school();
    const audience = { alsoClasses: [], students: [s.students[1]!.id] };
    const { body: sheet } = await s.save(await s.draft(), { title: 'Only Ben' }, { audience });
    expect((await s.set(sheet)).body.copies).toBe(1);
    expect(await titles(await s.pupil(0))).not.toContain('Only Ben');
    expect(await titles(await s.pupil(1))).toContain('Only Ben');
    await s.teacherCaller.call('addStudents', {
      params: { classId: s.classId },
      body: { students: [{ given: 'Late', family: `L${clock}`, login: null }] },
    });
    expect((await s.read(sheet)).students.filter((p: Loose) => p.copyId)).toHaveLength(1);
    // Somebody of another class cannot be chosen.
    const other = await school();
    const bad = await s.save(
      await s.draft(),
      { title: 'X' },
      { audience: { alsoClasses: [], students: [other.students[0]!.id] } },
    );
    expect(bad.status).toBe(404);
  });

  test('for later shows nothing before its time, and everything from then on', async () => {
    const s = await school();
    const ada = await s.pupil(0);
    const { body: sheet } = await s.save(await s.draft(), { title: 'Later' });
    await s.set(sheet, clock + HOUR);
    expect(await s.read(sheet)).toMatchObject({ stage: 'upcoming', opensAt: clock + HOUR });
    expect(await titles(ada)).not.toContain('Later');
    clock += HOUR;
    expect(await titles(ada)).toContain('Later');
  });

  test('a student who joins later gets a copy of what is out', async () => {
    const s = await school();
    const { body } = await s.teacherCaller.call('addStudents', {
      params: { classId: s.classId },
      body: { students: [{ given: 'New', family: `N${clock}`, login: null }] },
    });
    const pile = (await s.teacherCaller.call('pile', { params: { assignmentId: s.assignmentId } })).body;
    expect(pile.rows).toHaveLength(3);
    expect(body[0].password).toMatch(/^[a-z]+-[a-z]+-[a-z]+-\d\d$/);
  });
});

describe('editing what is out', () => {
  test('leaves what was handed in as it was, and tells the students when asked to', async () => {
    const s = await school();
    const ada = await s.pupil(0);
    const { documentId } = await handInFor(ada, s.teacherCaller, s.copyOf(0));
    // Its pages are still being read: how far that is would be another the next time.
    await readingDone(s.teacherCaller, documentId);
    const before = (await ada.call('work', { params: { copyId: s.copyOf(0) } })).body;
    clock += 1000;
    const sheet = await s.read({ id: s.assignmentId });
    await s.save(sheet, { title: 'Map work, new' }, { news: 'Question 3 has another map.' });
    const list = (await ada.call('workList')).body;
    expect(list[0]).toMatchObject({ changed: true, assignment: { title: 'Map work, new' } });
    const after = (await ada.call('work', { params: { copyId: s.copyOf(0) } })).body;
    expect(after.news.words).toBe('Question 3 has another map.');
    expect(after.handIn).toEqual(before.handIn);
    // It was looked at: told once.
    expect((await ada.call('workList')).body[0].changed).toBe(false);
  });

  test('fewer points than a grade that was given are refused', async () => {
    const s = await school();
    const { handInId } = await handInFor(await s.pupil(0), s.teacherCaller, s.copyOf(0));
    await s.teacherCaller.call('sendChanges', {
      params: { handInId },
      body: { changes: [grade(900), done(true)] },
    });
    const sheet = await s.read({ id: s.assignmentId });
    expect((await s.save(sheet, { most: 800 })).body.error).toMatchObject({
      code: 'grade-above',
      facts: { grade: 900 },
    });
    expect((await s.save(sheet, { most: 900 })).status).toBe(200);
  });

  test('excused is no longer overdue; a date of one’s own counts for that student alone', async () => {
    const s = await school();
    const sheet = await s.read({ id: s.assignmentId });
    await s.save(sheet, { dueAt: clock - HOUR });
    const terms = (n: number, body: object) =>
      s.teacherCaller.call('studentTerms', {
        params: { assignmentId: s.assignmentId, personId: s.students[n]!.id },
        body,
      });
    await terms(0, { excused: true, dueAt: null });
    await terms(1, { excused: false, dueAt: clock + HOUR });
    const rows = (await s.teacherCaller.call('pile', { params: { assignmentId: s.assignmentId } })).body.rows;
    expect(rows.map((r: Loose) => [r.excused, r.overdue])).toEqual([
      [true, false],
      [false, false],
    ]);
    expect((await (await s.pupil(0)).call('workList')).body[0]).toMatchObject({
      excused: true,
      overdue: false,
    });
    expect((await (await s.pupil(1)).call('workList')).body[0].assignment.dueAt).toBe(clock + HOUR);
  });

  test('put away it is gone from Today and from the students’ list, and can be brought back', async () => {
    const s = await school();
    const put = (away: boolean) =>
      s.teacherCaller.call('putAway', { params: { assignmentId: s.assignmentId }, body: { away } });
    await put(true);
    expect((await s.teacherCaller.call('today')).body).toEqual([]);
    expect(await titles(await s.pupil(0))).toEqual([]);
    await put(false);
    expect(await titles(await s.pupil(0))).toEqual(['Map work']);
  });

  test('set again is a draft of the same, without a date', async () => {
    const s = await school();
    const { body } = await s.teacherCaller.call('setAgain', {
      params: { assignmentId: s.assignmentId },
      body: { classId: s.classId },
    });
    expect(await s.read(body)).toMatchObject({
      stage: 'draft',
      words: { title: 'Map work', dueAt: null, most: 1000 },
    });
  });
});

describe('worksheets', () => {
  test('keep their versions: copies that are out keep theirs, drafts take the newest', async () => {
    const s = await school();
    const worksheetId = await madeWorksheet(s.teacherCaller);
    const sheet = await worksheetRead(s.teacherCaller, worksheetId);
    const save = (shape: Loose, questions: unknown[]) =>
      s.teacherCaller.call('saveQuestions', {
        params: { worksheetId },
        body: { versionId: shape.versionId, revision: shape.revision, questions },
      });
    const one = question(0, { kind: 'line' });
    const first = await save(sheet, [one]);
    expect(first.body).toMatchObject({ number: 1, revision: 2 });
    const add = (id: string) =>
      s.teacherCaller.call('addMaterialWorksheet', { params: { assignmentId: id }, body: { worksheetId } });
    const out = await s.draft();
    const waiting = await s.draft();
    await add(out.id);
    await add(waiting.id);
    const { body: named } = await s.save(out, { title: 'Out' });
    await s.set(named);

    const second = await save({ ...sheet, ...first.body }, [one, question(1, { kind: 'drawing' })]);
    expect(second.body).toMatchObject({ number: 2, revision: 1 });
    expect((await save({ ...sheet, ...first.body }, [])).body.error.code).toBe('changed-elsewhere');
    const ada = await s.pupil(0);
    const copy = (await ada.call('workList')).body.find((r: Loose) => r.assignment.title === 'Out');
    const work = (await ada.call('work', { params: { copyId: copy.copyId } })).body;
    expect(work.sheets[0].questions).toHaveLength(1);
    expect((await s.read(waiting)).materials[0].versionId).toBe(second.body.versionId);
    const { body: shape } = await s.teacherCaller.call('worksheet', { params: { worksheetId } });
    expect(shape.versions.map((v: Loose) => [v.number, v.copies])).toEqual([
      [2, 0],
      [1, 2],
    ]);
  });

  test('whose pages are still being made, or never will be, are not handed out: each is said as it is', async () => {
    const s = await school();
    const worksheetId = await madeWorksheet(s.teacherCaller);
    const { document } = await worksheetRead(s.teacherCaller, worksheetId);
    const { body: named } = await s.save(await s.draft(), { title: 'Not yet' });
    await s.teacherCaller.call('addMaterialWorksheet', {
      params: { assignmentId: named.id },
      body: { worksheetId },
    });
    const db = running.house.db.manager;
    const found = await find(db, DocumentTable, { id: document.id });
    await update(db, DocumentTable, { id: document.id }, { frames: null });
    for (const [state, what] of [
      ['running', 'pages'],
      ['failed', 'no-pages'],
    ] as const) {
      await update(db, JobTable, { kind: 'read-document', subject: document.id }, { state });
      expect((await s.set(named)).body.error).toMatchObject({
        code: 'draft-incomplete',
        facts: { what, name: 'Map work' },
      });
      expect((await s.read(named)).stage).toBe('draft');
    }
    await update(db, JobTable, { kind: 'read-document', subject: document.id }, { state: 'done' });
    await update(db, DocumentTable, { id: document.id }, { frames: found!.frames });
    expect((await s.set(named)).body.copies).toBe(2);
  });

  test('of several files are one, in their order, and are made upright', async () => {
    const s = await school();
    const worksheetId = await madeWorksheet(s.teacherCaller, [
      ['a.pdf', await plainPdf(['first'])],
      ['b.pdf', await plainPdf(['second'])],
    ]);
    const { document } = await worksheetRead(s.teacherCaller, worksheetId);
    expect(document).toMatchObject({ pages: 2, shows: 'pages' });
    const { body } = await s.teacherCaller.call('documentText', { params: { documentId: document.id } });
    expect(body.map((p: Loose) => p.words[0].text)).toEqual(['first', 'second']);
  });

  test('of what cannot become pages are refused; pages that do not exist take no question', async () => {
    const s = await school();
    await expect(madeWorksheet(s.teacherCaller, [['x.bin', new Uint8Array([1, 2, 0, 255])]])).rejects.toThrow(
      'file-not-pages',
    );
    const worksheetId = await madeWorksheet(s.teacherCaller);
    const sheet = await worksheetRead(s.teacherCaller, worksheetId);
    const bad = await s.teacherCaller.call('saveQuestions', {
      params: { worksheetId },
      body: {
        versionId: sheet.versionId,
        revision: sheet.revision,
        questions: [question(0, { kind: 'line' }, { page: 3 })],
      },
    });
    expect(bad.status).toBe(400);
  });

  test('a colleague of the class sees the worksheet, others do not', async () => {
    const s = await school();
    const other = await school();
    const worksheetId = await madeWorksheet(s.teacherCaller);
    await worksheetRead(s.teacherCaller, worksheetId);
    const sheet = await s.draft();
    await s.teacherCaller.call('addMaterialWorksheet', {
      params: { assignmentId: sheet.id },
      body: { worksheetId },
    });
    const see = () => other.teacherCaller.call('worksheet', { params: { worksheetId } });
    expect((await see()).status).toBe(404);
    await s.teacherCaller.call('addTeacher', {
      params: { classId: s.classId },
      body: { login: other.teacher.login },
    });
    expect((await see()).status).toBe(200);
  });
});

describe('the page for families', () => {
  test('shows instructions, date and what there is to look at, and no name', async () => {
    const s = await school();
    const nobody = new Caller(running.address);
    const { body: sheet } = await s.save(await s.draft(), {
      title: 'Tides',
      dueAt: clock + HOUR,
      instructions: {
        type: 'doc',
        content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Look at the table.' }] }],
      },
    });
    await s.teacherCaller.send(`/api/assignments/${sheet.id}/files`, [
      ['table.pdf', await plainPdf(['a table'])],
    ]);
    const worksheetId = await madeWorksheet(s.teacherCaller);
    await worksheetRead(s.teacherCaller, worksheetId);
    await s.teacherCaller.call('addMaterialWorksheet', {
      params: { assignmentId: sheet.id },
      body: { worksheetId },
    });
    const address = (open: boolean) =>
      s.teacherCaller.call('familyAddress', { params: { assignmentId: sheet.id }, body: { open } });
    const { familyToken: token } = (await address(true)).body;
    const see = (t = token) => nobody.call('family', { params: { token: t } });
    expect(token).toMatch(/^[\w-]{32}$/);
    // Not before it is open.
    expect((await see()).status).toBe(404);
    await s.set(sheet);
    const page = await see();
    expect(page.status).toBe(200);
    expect(page.headers.get('x-robots-tag')).toContain('noindex');
    expect(page.headers.get('referrer-policy')).toBe('no-referrer');
    expect(page.body).toMatchObject({
      title: 'Tides',
      dueAt: clock + HOUR,
      materials: [{ kind: 'file', name: 'table.pdf' }],
    });
    const told = JSON.stringify(page.body);
    for (const name of [
      s.teacher.given,
      s.teacher.login,
      ...s.students.flatMap((p) => [p.given, p.login, p.id]),
    ])
      expect(told).not.toContain(name);
    const file = page.body.materials[0].document.id;
    const fetchFile = (id: string) => nobody.raw('GET', `/api/family/${token}/files/${id}`);
    expect((await fetchFile(file)).status).toBe(200);
    // Only what is on the page: no worksheet, nobody's copy.
    const sheetDocument = (await s.read(sheet)).materials.find((m: Loose) => m.kind === 'worksheet').document
      .id;
    expect((await fetchFile(sheetDocument)).status).toBe(404);
    // Revoked it leads nowhere, and a new address is another one.
    await address(false);
    expect((await see()).status).toBe(404);
    expect((await fetchFile(file)).status).toBe(404);
    expect((await address(true)).body.familyToken).not.toBe(token);
    expect((await see('x'.repeat(32))).status).toBe(404);
  });
});
