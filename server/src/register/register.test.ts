import type { Credentials } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { setAssignment } from '../assignment/set.ts';
import type { Running } from '../serve.ts';
import { handInFor } from '../testing/handed-in.ts';
import { Caller, type Loose, PASSWORD, smallClass, testServer } from '../testing/house.ts';
import { done, grade } from '../testing/marks.ts';
import { plainPdf } from '../testing/pdfs.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
});
afterAll(() => running.stop());

let n = 0;
async function school(students: readonly string[] = ['ada', 'ben']) {
  const s = await smallClass(running, students);
  const teacher = await new Caller(running.address).signIn(s.teacher.login);
  const params = { classId: s.classId };
  const add = (students: object[]) => teacher.call('addStudents', { params, body: { students } });
  const register = async () => (await teacher.call('register', { params })).body;
  return { ...s, teacherCaller: teacher, params, add, register };
}
const signIn = (login: string, password: string) =>
  new Caller(running.address).call('signIn', { body: { login, password } });

describe('students come in', () => {
  test('new ones get a login and a first password that works, shown once and kept nowhere', async () => {
    const s = await school();
    const family = `Stöne${n++}`;
    const { body } = await s.add([{ given: 'Inés', family, login: null }]);
    const [made] = body as [Credentials];
    expect(made.login).toMatch(/^ines\.stone\d+$/);
    expect((await signIn(made.login, made.password!)).status).toBe(200);
    const dump = JSON.stringify(
      await running.house.db.query('SELECT * FROM person WHERE id = ?', [made.personId]),
    );
    expect(dump).not.toContain(made.password);
    // The same list sent again adds nobody twice.
    const again = await s.add([{ given: 'Inés', family, login: null }]);
    expect(again.body).toMatchObject([{ personId: made.personId, password: null }]);
    expect((await s.register()).students).toHaveLength(3);
  });

  test('two of one name get logins of their own', async () => {
    const a = await school();
    const b = await school();
    const family = `Same${n++}`;
    const one = await a.add([{ given: 'Ada', family, login: null }]);
    const two = await b.add([{ given: 'Ada', family, login: null }]);
    expect(two.body[0].login).toBe(`${one.body[0].login}2`);
  });

  test('nobody takes another teacher’s student over by writing their login down', async () => {
    const a = await school();
    const b = await school();
    const [ada] = a.students;
    const { body: plan } = await b.teacherCaller.call('planStudents', {
      params: b.params,
      body: { text: `given,family,login\nx,y,${ada!.login}` },
    });
    expect(plan.lines).toMatchObject([{ outcome: 'wrong', why: 'not-yours', known: null }]);
    const reply = await b.add([
      { given: 'Good', family: `One${n++}`, login: null },
      { given: 'x', family: 'y', login: ada!.login },
    ]);
    expect(reply).toMatchObject({
      status: 403,
      body: { error: { code: 'not-your-student', facts: { login: ada!.login } } },
    });
    expect((await b.register()).students).toHaveLength(2);
    // So their password is not theirs to reset either.
    const reset = { params: b.params, body: { personIds: [ada!.id] } };
    expect((await b.teacherCaller.call('newPasswords', reset)).status).toBe(404);
    expect((await signIn(ada!.login, PASSWORD)).status).toBe(200);
  });

  test('a colleague who has a student takes them into a class that they share, with the password they have', async () => {
    const a = await school();
    const b = await school();
    await b.teacherCaller.call('addTeacher', { params: b.params, body: { login: a.teacher.login } });
    const { body } = await a.teacherCaller.call('addStudents', {
      params: b.params,
      body: { students: [{ given: 'x', family: 'y', login: a.students[0]!.login }] },
    });
    expect(body).toMatchObject([
      { personId: a.students[0]!.id, given: a.students[0]!.given, password: null },
    ]);
    expect((await signIn(a.students[0]!.login, PASSWORD)).status).toBe(200);
  });

  test('who left a class is nobody’s there to reset', async () => {
    const s = await school();
    const personId = s.students[0]!.id;
    await s.teacherCaller.call('removeStudent', { params: { ...s.params, personId } });
    const reset = { params: s.params, body: { personIds: [personId] } };
    expect((await s.teacherCaller.call('newPasswords', reset)).status).toBe(404);
  });

  test('a teacher’s login is refused, and nobody of the list is added', async () => {
    const s = await school();
    const reply = await s.add([
      { given: 'Good', family: `One${n++}`, login: null },
      { given: 'Bad', family: 'One', login: s.teacher.login },
    ]);
    expect(reply).toMatchObject({ status: 409, body: { error: { code: 'login-taken' } } });
    expect((await s.register()).students).toHaveLength(2);
  });

  test('names that a spreadsheet would run, and long lists in one go, stop at the door', async () => {
    const s = await school();
    expect((await s.add([{ given: '=cmd()', family: 'x', login: null }])).status).toBe(400);
    const many = Array.from({ length: 21 }, (_, i) => ({ given: `A${i}`, family: 'B', login: null }));
    expect((await s.add(many)).status).toBe(400);
  });
});

describe('a list is looked at before it changes anything', () => {
  test('with what each line would do and what is wrong in which', async () => {
    const s = await school();
    const [ada] = s.students;
    const text = `\uFEFFgiven;family;login\r\n${ada!.given};Example;\r\n=1+1;Stone;\r\nNew;Stone${n++};\r\nQuill;F;${s.teacher.login}\r\n`;
    const { body } = await s.teacherCaller.call('planStudents', { params: s.params, body: { text } });
    expect(body.trouble).toBeNull();
    expect(body.lines.map((l: Loose) => [l.line, l.outcome, l.why])).toEqual([
      [2, 'here', null],
      [3, 'wrong', 'formula'],
      [4, 'new', null],
      [5, 'wrong', 'a-teacher'],
    ]);
    expect((await s.register()).students).toHaveLength(2);
  });

  test('ten thousand lines are answered with their number', async () => {
    const s = await school();
    const text = Array.from({ length: 10_000 }, (_, i) => `Ada,Stone${i},x${i}`).join('\n');
    const { body } = await s.teacherCaller.call('planStudents', { params: s.params, body: { text } });
    expect(body).toEqual({ trouble: 'too-many', count: 10_000, lines: [] });
  });
});

describe('leaving and coming back', () => {
  test('loses no work: what was handed in stays, and what was set meanwhile is there on return', async () => {
    const s = await school();
    const ada = await new Caller(running.address).signIn(s.students[0]!.login);
    await handInFor(ada, s.teacherCaller, s.copyOf(0));
    const person = { ...s.params, personId: s.students[0]!.id };
    await s.teacherCaller.call('removeStudent', { params: person });
    const pile = async () =>
      (await s.teacherCaller.call('pile', { params: { assignmentId: s.assignmentId } })).body.rows;
    expect(await pile()).toHaveLength(1);
    expect((await s.register()).students.find((p: Loose) => p.personId === person.personId).left).toBe(true);
    const { body: draft } = await s.teacherCaller.call('startAssignment', { params: s.params });
    await s.teacherCaller.call('saveAssignment', {
      params: { assignmentId: draft.id },
      body: {
        revision: 1,
        words: { ...draft.words, title: 'Meanwhile' },
        audience: draft.audience,
        news: null,
      },
    });
    expect(
      (
        await s.teacherCaller.call('setAssignment', {
          params: { assignmentId: draft.id },
          body: { opensAt: null },
        })
      ).body.copies,
    ).toBe(1);
    await s.teacherCaller.call('returnStudent', { params: person });
    expect((await pile()).map((r: Loose) => r.place)).toEqual(['in', 'with-student']);
    const titles = (await ada.call('workList')).body.map((r: Loose) => r.assignment.title);
    expect(titles.sort()).toEqual(['Map work', 'Meanwhile']);
  });
});

describe('passwords', () => {
  test('made anew sign everybody out who used the old one', async () => {
    const s = await school();
    const ada = await new Caller(running.address).signIn(s.students[0]!.login);
    const { body } = await s.teacherCaller.call('newPasswords', {
      params: s.params,
      body: { personIds: [s.students[0]!.id] },
    });
    expect((await ada.call('workList')).status).toBe(401);
    expect((await signIn(s.students[0]!.login, PASSWORD)).status).toBe(401);
    expect((await signIn(s.students[0]!.login, body[0].password)).status).toBe(200);
  });

  test('of students in other classes, and of teachers, cannot be made anew', async () => {
    const a = await school();
    const b = await school();
    for (const personId of [b.students[0]!.id, a.teacher.id])
      expect(
        (await a.teacherCaller.call('newPasswords', { params: a.params, body: { personIds: [personId] } }))
          .status,
      ).toBe(404);
  });

  test('are one’s own to change, with the old one', async () => {
    const s = await school();
    const ada = await new Caller(running.address).signIn(s.students[0]!.login);
    const change = (old: string, next: string) => ada.call('changePassword', { body: { old, next } });
    expect((await change('wrong one', 'another long one')).body.error.code).toBe('wrong-old-password');
    expect((await change(PASSWORD, 'short')).status).toBe(400);
    const login = s.students[0]!.login;
    expect((await change(PASSWORD, `${login}1`)).body.error).toMatchObject({
      code: 'weak-password',
      facts: { why: 'login' },
    });
    expect((await change(PASSWORD, 'basketball')).body.error.facts.why).toBe('common');
    // Another device is signed out by it; this one stays.
    const elsewhere = await new Caller(running.address).signIn(login);
    expect((await change(PASSWORD, 'another long one')).status).toBe(200);
    expect((await elsewhere.call('workList')).status).toBe(401);
    expect((await ada.call('workList')).status).toBe(200);
    expect((await signIn(login, 'another long one')).status).toBe(200);
  });
});

describe('a student in two classes', () => {
  test('has the work of both; moved out of one, what came back there stays and the rest goes', async () => {
    const s = await school();
    const other = (await s.teacherCaller.call('addClass', { body: { name: '8B', unit: '' } })).body as Loose;
    const ada = await new Caller(running.address).signIn(s.students[0]!.login);
    await s.teacherCaller.call('addStudents', {
      params: { classId: other.id },
      body: { students: [{ given: 'Ada', family: '', login: s.students[0]!.login }] },
    });
    const set = await setAssignment(running.house, {
      classId: other.id,
      title: 'Tides',
      instructions: '',
      dueAt: null,
      most: null,
    });
    const titles = async () =>
      ((await ada.call('workList')).body as Loose[]).map((r) => r.assignment.title).sort();
    expect(await titles()).toEqual(['Map work', 'Tides']);
    const leave = (classId: string) =>
      s.teacherCaller.call('removeStudent', { params: { classId, personId: s.students[0]!.id } });
    await leave(other.id);
    expect(await titles()).toEqual(['Map work']);
    // Of the first class something came back: it is theirs to read when they have moved.
    await ada.upload(s.copyOf(0), await plainPdf());
    await ada.handIn(s.copyOf(0));
    const desk = await s.teacherCaller.call('desk', {
      params: { copyId: s.copyOf(0) },
    });
    await s.teacherCaller.call('sendChanges', {
      params: { handInId: desk.body.handIn.id },
      body: { changes: [grade(700), done(true)] },
    });
    await s.teacherCaller.call('handBack', {
      params: { assignmentId: s.assignmentId },
      body: { copyIds: [s.copyOf(0)] },
    });
    await leave(s.params.classId);
    expect(await titles()).toEqual(['Map work']);
    expect(set.copies.has(s.students[0]!.id)).toBe(true);
  });
});

describe('a password from a sheet', () => {
  test('is told at signing in, and changed once without typing it again; then it is one’s own', async () => {
    const s = await school();
    const [made] = (
      await s.teacherCaller.call('newPasswords', {
        params: s.params,
        body: { personIds: [s.students[0]!.id] },
      })
    ).body;
    const ada = new Caller(running.address);
    await ada.signIn(made.login, made.password);
    const told = async () => (await ada.call('session')).body.firstPassword;
    expect(await told()).toBe(true);
    const change = (old: string | null, next: string) => ada.call('changePassword', { body: { old, next } });
    // The one on the sheet is no password of one's own.
    expect((await change(null, made.password)).body.error.code).toBe('same-password');
    expect((await change(null, 'a hill by the sea')).status).toBe(200);
    expect(await told()).toBe(false);
    expect((await change(null, 'somebody at my desk')).body.error.code).toBe('wrong-old-password');
    expect((await signIn(made.login, made.password)).status).toBe(401);
    expect((await signIn(made.login, 'a hill by the sea')).body.firstPassword).toBe(false);
  });
});

describe('a name or a login that was wrong', () => {
  test('is corrected for a student of the class, in every list, and the password stays', async () => {
    const s = await school();
    const [ada, ben] = s.students;
    const of = (personId: string) => ({ params: { ...s.params, personId } });
    const to = { given: 'Ada Maria', family: 'de la Torre', login: `ada-${s.params.classId.slice(-6)}` };
    const correct = (personId: string, body: object) =>
      s.teacherCaller.call('correctStudent', { ...of(personId), body });
    expect((await correct(ada!.id, to)).status).toBe(200);
    const { students } = (await s.teacherCaller.call('register', { params: s.params })).body;
    expect(students.find((r: Loose) => r.personId === ada!.id)).toMatchObject(to);
    expect((await signIn(to.login, PASSWORD)).status).toBe(200);
    expect((await signIn(ada!.login, PASSWORD)).status).toBe(401);
    // A login that somebody has is refused, and nothing is changed.
    const taken = await correct(ben!.id, { given: 'Ben', family: '', login: to.login });
    expect([taken.status, taken.body.error.code, taken.body.error.facts.login]).toEqual([
      409,
      'login-in-use',
      to.login,
    ]);
    expect((await correct(ben!.id, { given: '', family: 'X', login: 'ben' })).status).toBe(400);
    expect((await correct(ben!.id, { given: 'Ben', family: '', login: 'Bad Login' })).status).toBe(400);
    expect((await signIn(ben!.login, PASSWORD)).status).toBe(200);
  });

  test('of a colleague, of somebody in another class or of who has left is not theirs to correct', async () => {
    const [a, b] = [await school(), await school()];
    const correct = (personId: string) =>
      a.teacherCaller.call('correctStudent', {
        params: { ...a.params, personId },
        body: { given: 'X', family: 'Y', login: 'xy-xy' },
      });
    for (const personId of [a.teacher.id, b.students[0]!.id])
      expect((await correct(personId)).status).toBe(404);
    const gone = a.students[0]!.id;
    await a.teacherCaller.call('removeStudent', { params: { ...a.params, personId: gone } });
    expect((await correct(gone)).status).toBe(404);
    const own = await new Caller(running.address).signIn(a.students[1]!.login);
    const reply = await own.call('correctStudent', {
      params: { ...a.params, personId: a.students[1]!.id },
      body: { given: 'X', family: 'Y', login: 'xy-xy' },
    });
    expect(reply.status).toBe(403);
  });
});

describe('colleagues', () => {
  test('share a class by their login; the last teacher stays', async () => {
    const a = await school();
    const b = await school();
    const add = (login: string) => a.teacherCaller.call('addTeacher', { params: a.params, body: { login } });
    expect((await add('nobody')).body.error.code).toBe('no-such-teacher');
    expect((await add(a.students[0]!.login)).body.error.code).toBe('no-such-teacher');
    await add(b.teacher.login);
    expect((await b.teacherCaller.call('pile', { params: { assignmentId: a.assignmentId } })).status).toBe(
      200,
    );
    const remove = (personId: string) =>
      a.teacherCaller.call('removeTeacher', { params: { ...a.params, personId } });
    expect((await remove(b.teacher.id)).status).toBe(200);
    expect((await b.teacherCaller.call('pile', { params: { assignmentId: a.assignmentId } })).status).toBe(
      404,
    );
    expect((await remove(a.teacher.id)).body.error.code).toBe('last-teacher');
  });
});

describe('the conversation on a copy', () => {
  test('is its student’s and the teachers’, unread until it is read, and sent twice is said once', async () => {
    const s = await school();
    const ada = await new Caller(running.address).signIn(s.students[0]!.login);
    const ben = await new Caller(running.address).signIn(s.students[1]!.login);
    const params = { copyId: s.copyOf(0) };
    const id = `01a21263-aab7-77a6-ad1f-cbff6ce6${String(1000 + n++)}`;
    const say = (words: string) => ada.call('say', { params, body: { id, words } });
    await say('Along the path or straight?');
    await say('Along the path or straight?');
    expect((await s.teacherCaller.call('unread')).body).toMatchObject([
      { copyId: params.copyId, count: 1, words: 'Along the path or straight?', handedIn: false },
    ]);
    expect((await ada.call('unread')).body).toEqual([]);
    expect((await ben.call('messages', { params })).status).toBe(404);
    const { body } = await s.teacherCaller.call('messages', { params });
    expect(body).toMatchObject({ title: 'Map work', messages: [{ mine: false, unread: true }] });
    await s.teacherCaller.call('readMessages', { params, body: { at: body.messages[0].at } });
    expect((await s.teacherCaller.call('unread')).body).toEqual([]);
    await s.teacherCaller.call('say', {
      params,
      body: { id: id.replace('aab7', 'aab8'), words: 'Straight.' },
    });
    expect((await ada.call('workList')).body[0].unread).toBe(1);
    expect((await ada.call('unread')).body).toMatchObject([{ words: 'Straight.' }]);
  });
});
