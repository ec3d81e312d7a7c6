import type { Person } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, newPerson, PASSWORD, smallClass, testServer } from '../testing/house.ts';

let running: Running;
let admin: Caller;
let office: Person;
beforeAll(async () => {
  running = await testServer();
  office = await newPerson(running, 'administrator', 'office');
  admin = await sign(office.login);
});
afterAll(() => running.stop());

const sign = (login: string, password?: string) => new Caller(running.address).signIn(login, password);
const people = async (like: string) =>
  (await admin.call('schoolPeople', { query: `?like=${encodeURIComponent(like)}` })).body.people as {
    id: string;
    login: string;
    classes: { name: string; left: boolean }[];
  }[];

describe('an administrator', () => {
  test('makes teachers, who choose their own password, and sees who is where', async () => {
    const made = await admin.call('addStaff', {
      body: { given: 'Io', family: 'Marsh', login: 'io.marsh', role: 'teacher' },
    });
    const teacher = await sign('io.marsh', made.body.password);
    expect((await teacher.call('session')).body).toMatchObject({ firstPassword: true, reset: null });
    await teacher.call('addClass', { body: { name: '9Q', unit: '' } });
    expect(await people('marsh')).toMatchObject([
      { login: 'io.marsh', classes: [{ name: '9Q', left: false }] },
    ]);
    const twice = await admin.call('addStaff', {
      body: { given: 'Io', family: 'Marsh', login: 'io.marsh', role: 'teacher' },
    });
    expect(twice.body.error.code).toBe('login-in-use');
    // What is typed is looked for as it stands.
    expect(await people('%')).toEqual([]);
  });

  test('makes a new password where a teacher may not: it is logged, and told at the next sign-in', async () => {
    const { teacher } = await smallClass(running);
    const before = await sign(teacher.login);
    const reset = await admin.call('resetPerson', { params: { personId: teacher.id }, body: {} });
    expect((await before.call('today')).status).toBe(401);
    const after = await sign(teacher.login, reset.body.password);
    expect((await after.call('session')).body.reset.by).toBe('office Example');
    await after.call('changePassword', { body: { old: null, next: 'quite-another-one' } });
    expect((await after.call('session')).body.reset).toBeNull();
    const [act] = (await admin.call('schoolActs')).body;
    expect(act).toMatchObject({
      act: 'resetPerson',
      by: 'office Example',
      about: `${teacher.given} Example`,
    });
  });

  test('each password that a teacher makes anew is logged by name, and its student is told who did it', async () => {
    const s = await smallClass(running);
    const teacher = await sign(s.teacher.login);
    const made = await teacher.call('newPasswords', {
      params: { classId: s.classId },
      body: { personIds: s.students.map((p) => p.id) },
    });
    const acts = (await admin.call('schoolActs')).body.slice(0, 2);
    expect(acts.map((a: { act: string; className: string }) => [a.act, a.className])).toEqual([
      ['newPasswords', '7X'],
      ['newPasswords', '7X'],
    ]);
    expect(new Set(acts.map((a: { about: string }) => a.about)).size).toBe(2);
    const student = await sign(s.students[0]!.login, made.body[0].password);
    expect((await student.call('session')).body.reset.by).toContain('quill');
  });

  test('sees nothing of what is in a class: no pile, no copy, no log', async () => {
    const s = await handedIn(running);
    for (const [name, params] of [
      ['pile', { assignmentId: s.assignmentId }],
      ['desk', { copyId: s.copyId }],
      ['register', { classId: s.classId }],
      ['messages', { copyId: s.copyId }],
    ] as const)
      expect([403, 404], name).toContain((await admin.call(name, { params })).status);
  });
});

describe('a student whom one does not have', () => {
  async function asked() {
    const mine = await smallClass(running, ['kim']);
    const theirs = await smallClass(running, []);
    const kim = mine.students[0]!;
    const have = await sign(mine.teacher.login);
    const want = await sign(theirs.teacher.login);
    const { classId } = theirs;
    await want.call('askConsent', { params: { classId }, body: { login: kim.login } });
    const [open] = (await have.call('consents')).body;
    const inClass = async () =>
      (await want.call('register', { params: { classId } })).body.students.map((p: Person) => p.login);
    return { mine, theirs, kim, have, want, classId, id: open.id as string, inClass };
  }

  test('comes in when a teacher who has them agrees, and gets what is set there; both hear of it', async () => {
    const h = await asked();
    expect(
      (
        await h.want.call('addStudents', {
          params: { classId: h.classId },
          body: { students: [{ given: 'Kim', family: 'X', login: h.kim.login }] },
        })
      ).body.error.code,
    ).toBe('not-your-student');
    expect((await h.have.call('news')).body.notices[0]).toMatchObject({ kind: 'asked' });
    expect(await h.inClass()).toEqual([]);
    expect(
      (await h.have.call('answerConsent', { params: { consentId: h.id }, body: { granted: true } })).status,
    ).toBe(200);
    expect(await h.inClass()).toEqual([h.kim.login]);
    expect((await h.want.call('news')).body.notices[0]).toMatchObject({ kind: 'asked-answered', count: 1 });
    const kim = await sign(h.kim.login);
    expect((await kim.call('workList')).body).toHaveLength(2);
    // It was answered: whoever answers now changes nothing.
    expect(
      (await admin.call('answerConsent', { params: { consentId: h.id }, body: { granted: false } })).status,
    ).toBe(404);
  });

  test('stays out when they refuse; who asked cannot answer, nor can somebody else', async () => {
    const h = await asked();
    const answer = (who: Caller, granted: boolean) =>
      who.call('answerConsent', { params: { consentId: h.id }, body: { granted } });
    const stranger = await sign((await newPerson(running, 'teacher', 'stranger')).login);
    expect((await stranger.call('consents')).body).toEqual([]);
    for (const who of [h.want, stranger, await sign(h.kim.login)])
      expect((await answer(who, true)).status).toBe(404);
    expect((await answer(h.have, false)).status).toBe(200);
    expect(await h.inClass()).toEqual([]);
  });

  test('an administrator can say it too; asked twice it is one question', async () => {
    const h = await asked();
    await h.want.call('askConsent', { params: { classId: h.classId }, body: { login: h.kim.login } });
    const open = (await admin.call('consents')).body.filter((c: { id: string }) => c.id === h.id);
    expect(open).toHaveLength(1);
    expect((await h.want.call('consents')).body).toMatchObject([{ id: h.id, mine: true }]);
    await admin.call('answerConsent', { params: { consentId: h.id }, body: { granted: true } });
    expect(await h.inClass()).toEqual([h.kim.login]);
  });

  test('yes and no at the same moment: one of them counts', async () => {
    for (let round = 0; round < 5; round++) {
      const h = await asked();
      const replies = await Promise.all(
        [h.have, admin].map((who, i) =>
          who.call('answerConsent', { params: { consentId: h.id }, body: { granted: i === 0 } }),
        ),
      );
      expect(replies.map((r) => r.status).sort()).toEqual([200, 404]);
      expect(await h.inClass()).toHaveLength(replies[0]!.status === 200 ? 1 : 0);
    }
  });
});

describe('two accounts of one student', () => {
  const merge = (keep: Person, gone: Person, look = false) =>
    admin.call('mergePeople', { params: { personId: keep.id }, body: { gone: gone.id, look } });

  /** Every column of the database that holds an id. */
  async function named(id: string): Promise<string[]> {
    const { db } = running.house;
    const columns: { t: string; c: string }[] = await db.query(
      `SELECT table_name AS t, column_name AS c FROM information_schema.columns WHERE table_schema = DATABASE() AND data_type IN ('char', 'varchar', 'text', 'longtext')`,
    );
    const found: string[] = [];
    for (const { t, c } of columns) {
      const [row] = await db.query(`SELECT 1 FROM \`${t}\` WHERE \`${c}\` LIKE ? LIMIT 1`, [`%${id}%`]);
      if (row) found.push(`${t}.${c}`);
    }
    return found;
  }

  test('become one: work, classes and words of both are the one’s, and no trace of the other is left', async () => {
    const one = await handedIn(running);
    const other = await smallClass(running, ['ada2']);
    const [keep, gone] = [other.students[0]!, one.students[0]!];
    await one.student.call('say', {
      params: { copyId: one.copyId },
      body: { id: '01a21263-aab7-77a6-ad1f-cbff6ce69f11', words: 'Is it right?' },
    });
    expect((await merge(keep, gone, true)).body).toEqual({ bothHave: [], copies: 1, classes: 1 });
    expect(await named(gone.id)).not.toEqual([]);
    expect((await merge(keep, gone)).status).toBe(200);
    // Who did it to whom is in the log, as it was.
    expect(await named(gone.id)).toEqual([]);
    const caller = await sign(keep.login);
    expect((await caller.call('workList')).body).toHaveLength(2);
    expect((await caller.call('work', { params: { copyId: one.copyId } })).body.handIn).toBeTruthy();
    expect(
      (await new Caller(running.address).call('signIn', { body: { login: gone.login, password: PASSWORD } }))
        .status,
    ).toBe(401);
    const [said] = (await caller.call('messages', { params: { copyId: one.copyId } })).body.messages;
    expect(said).toMatchObject({ words: 'Is it right?', mine: true });
  });

  test('in one class: the copy in which there is nothing goes; where both have work they stay two', async () => {
    const s = await handedIn(running);
    const [ada, ben] = s.students as [Person, Person];
    expect((await merge(ada, ben)).status).toBe(200);
    const caller = await sign(ada.login);
    expect((await caller.call('workList')).body).toHaveLength(1);

    const two = await handedIn(running);
    const [eva, eve] = two.students as [Person, Person];
    const second = await sign(eve.login);
    const copyId = (await second.call('workList')).body[0].copyId;
    await second.call('say', {
      params: { copyId },
      body: { id: '01a21263-aab7-77a6-ad1f-cbff6ce69f12', words: 'Mine.' },
    });
    const refused = await merge(eva, eve);
    expect(refused.body.error).toMatchObject({ code: 'not-to-merge' });
    expect((await merge(eva, eve, true)).body.bothHave).toHaveLength(1);
    expect((await second.call('workList')).body).toHaveLength(1);
  });

  test('is for students alone, and for two', async () => {
    const s = await smallClass(running);
    expect((await merge(s.students[0]!, s.teacher)).status).toBe(404);
    expect((await merge(s.students[0]!, s.students[0]!)).status).toBe(400);
    const both = await Promise.all([
      merge(s.students[0]!, s.students[1]!),
      merge(s.students[1]!, s.students[0]!),
    ]);
    expect(both.map((r) => r.status).sort()).toEqual([200, 404]);
  });
});
