import { randomBytes } from 'node:crypto';
import {
  makeId,
  type NoteMark,
  newRubric,
  PLAIN_HAND_BACK,
  plainScoring,
  type RouteName,
  routes,
  starterTrays,
  type TrayId,
} from '@jotmark/core';
import type { Logger } from 'typeorm';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, newPerson, smallClass, testServer } from '../testing/house.ts';
import { closing, done, grade, note, put } from '../testing/marks.ts';
import { keepSpoken, partsOf, recordingOfBytes, spoken } from '../testing/voices.ts';
import { madeWorksheet } from '../testing/worksheets.ts';

/** Hears every statement the server sends to its database. */
class Ear implements Logger {
  heard: string[] = [];
  logQuery(sql: string): void {
    this.heard.push(sql);
  }
  logQueryError(): void {}
  logQuerySlow(): void {}
  logSchemaBuild(): void {}
  logMigration(): void {}
  log(): void {}
}

const ear = new Ear();
let running: Running;
let callers: Record<
  'nobody' | 'teacher' | 'student' | 'classmate' | 'otherTeacher' | 'otherStudent' | 'administrator',
  Caller
>;
let params: Record<string, string>;

beforeAll(async () => {
  running = await testServer({}, { logger: ear });
  const school = await handedIn(running);
  const other = await smallClass(running, ['cyd']);
  const sign = (login: string) => new Caller(running.address).signIn(login);
  callers = {
    nobody: new Caller(running.address),
    teacher: school.teacherCaller,
    student: school.student,
    classmate: await sign(school.students[1]!.login),
    otherTeacher: await sign(other.teacher.login),
    otherStudent: await sign(other.students[0]!.login),
    administrator: await sign((await newPerson(running, 'administrator')).login),
  };
  const file = await keepSpoken(school.teacherCaller, spoken());
  const voice = recordingOfBytes(spoken(), { captions: [{ at: 0, words: 'secret said' }] });
  await school.send(
    put(note(school.documentId, 'secret words', { voice } as Partial<NoteMark>)),
    grade(900),
    closing('secret closing'),
    done(true),
  );
  params = {
    assignmentId: school.assignmentId,
    copyId: school.copyId,
    handInId: school.handInId,
    documentId: school.documentId,
    handBackId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca',
    classId: school.classId,
    personId: school.students[0]!.id,
    materialId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca',
    worksheetId: await madeWorksheet(school.teacherCaller),
    jobId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca',
    questionId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca',
    orderId: (
      await school.teacherCaller.call('handBack', {
        params: { assignmentId: school.assignmentId },
        body: { copyIds: [school.copyId], at: Date.now() + 3_600_000 },
      })
    ).body.order,
    remarkId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca',
    messageId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca',
    sessionId: 'a'.repeat(24),
    consentId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca',
    mailId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca',
    eveningId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca',
    rubricId: (
      await school.teacherCaller.call('makeRubric', { body: { name: 'Maps', rubric: newRubric(newId) } })
    ).body.id,
    phraseId: '01a21263-aab7-77a6-ad1f-cbff6ce69fca',
    token: 'x'.repeat(32),
    picture: 'ab'.repeat(32),
    file,
  };
});
afterAll(() => running.stop());

const bodies: Partial<Record<RouteName, () => unknown>> = {
  signIn: () => ({ login: 'nobody', password: 'x' }),
  handBack: () => ({ copyIds: [params.copyId] }),
  sendChanges: () => ({ changes: [grade(100)] }),
  handBackSoon: () => ({ copyId: params.copyId }),
  checkHandBack: () => ({ copyIds: [params.copyId] }),
  asStudent: () => ({ how: PLAIN_HAND_BACK }),
  recall: () => ({ copyIds: [params.copyId], tell: true, words: '' }),
  opened: () => ({ marks: [] }),
  editMessage: () => ({ words: 'Else.' }),
  addRemark: () => ({ id: newId(), to: [params.personId], words: 'x', at: 1, work: '', strand: '' }),
  changeRemark: () => ({ words: 'x', at: 1, work: '', strand: '' }),
  answerRemark: () => ({ id: newId(), words: 'x', quote: '', personId: params.personId }),
  saveReport: () => ({ term: 'x', words: 'x', base: 0 }),
  bringGrades: () => ({ works: [{ title: 'x', category: '', most: 100, dueAt: null, grades: [] }] }),
  logAddress: () => ({ open: true }),
  calendarAddress: () => ({ open: true, classId: params.classId }),
  archiveClass: () => ({ archived: true }),
  readNews: () => ({ ids: null, read: true }),
  chooseNews: () => ({}),
  setBlind: () => ({ blind: false }),
  pileTerms: () => ({ copyIds: [params.copyId] }),
  zipOriginals: () => ({ copyIds: [params.copyId] }),
  leaveAt: () => ({ page: 0 }),
  markedPdf: () => ({ as: 'notes' }),
  keepPhrases: () => ({
    phrases: [{ id: '01a21263-aab7-77a6-ad1f-cbff6ce69fcb', words: 'Count again', group: '', focus: null }],
  }),
  keepPicture: () => ({ base64: 'iVBORw0KGgoAAAA=' }),
  keepTrays: () => starterTrays(() => newId() as TrayId),
  turnPages: () => ({ turns: { 0: 90 } }),
  handIn: () => ({ id: newId(), cover: '', claimedAt: null }),
  sendCopyChanges: () => ({
    changes: [{ id: newId(), base: null, type: 'answer', question: newId(), value: 'x', was: '' }],
  }),
  addLink: () => ({ url: 'https://island.example/map', name: '' }),
  orderFiles: () => ({ order: [] }),
  say: () => ({ id: newId(), words: 'Hello.' }),
  readMessages: () => ({ at: 1 }),
  sayToMany: () => ({ words: 'All of you.', to: [{ id: newId(), copyId: params.copyId }] }),
  changeClass: () => ({ name: '7X', unit: '' }),
  planStudents: () => ({ text: 'Ada' }),
  addStudents: () => ({ students: [{ given: 'Zoe', family: 'Example', login: null }] }),
  correctStudent: () => ({ given: 'Ada', family: 'Example', login: `l-${newId().slice(-12)}` }),
  newPasswords: () => ({ personIds: [params.personId] }),
  addTeacher: () => ({ login: 'nobody' }),
  saveAssignment: () => ({
    revision: 1,
    words: {
      title: 'x',
      instructions: { type: 'doc', content: [] },
      category: '',
      unit: '',
      most: null,
      dueAt: null,
      handsIn: true,
      takeBack: 'until-marked',
    },
    audience: { alsoClasses: [], students: null },
    news: null,
  }),
  setAssignment: () => ({ opensAt: null }),
  addMaterialLink: () => ({ url: 'https://island.example/map', name: '' }),
  addMaterialWorksheet: () => ({ worksheetId: params.worksheetId }),
  orderMaterials: () => ({ order: [] }),
  setAgain: () => ({ classId: params.classId }),
  putAway: () => ({ away: true }),
  studentTerms: () => ({ excused: true, dueAt: null }),
  familyAddress: () => ({ open: true }),
  renameWorksheet: () => ({ name: 'x' }),
  keepVoicePart: () => partsOf(spoken('lines'))[0],
  heard: () => ({ reached: 1, left: 1 }),
  makeRubric: () => ({ name: 'x', rubric: newRubric(newId) }),
  saveRubric: () => ({ name: 'x', versionId: newId(), rubric: newRubric(newId) }),
  archiveRubric: () => ({ away: true }),
  tryScoring: () => scoringEdit(),
  saveScoring: () => scoringEdit(),
  saveKey: () => ({ key: null }),
  evenOut: () => ({ evening: { how: 'shift', by: 50 }, copyIds: [params.copyId], reason: 'Was too strict.' }),
  releaseMidway: () => ({ copyIds: [params.copyId] }),
  sendCopyMarking: () => ({ changes: [grade(100)] }),
  startStep: () => ({ password: 'not this one' }),
  confirmStep: () => ({ code: '000000' }),
  dropStep: () => ({ password: 'not this one' }),
  addStaff: () => ({ given: 'Zoe', family: 'Example', login: 'zoe.example', role: 'teacher' }),
  correctPerson: () => ({ given: 'Zoe', family: 'Example', login: 'zoe.example' }),
  mergePeople: () => ({ gone: newId(), look: true }),
  askConsent: () => ({ login: 'nobody.known' }),
  answerConsent: () => ({ granted: true }),
  joinCode: () => ({ on: true }),
  askToJoin: () => ({ code: 'K7M4QX' }),
  saveQuestions: () => ({ versionId: newId(), revision: 1, questions: [] }),
};
const scoringEdit = () => ({ scoring: plainScoring(false), rubricVersionId: null, most: 1000, news: null });
const newId = () => makeId(Date.now(), randomBytes(10));

const ask = (who: keyof typeof callers, name: RouteName) => {
  const route = routes[name];
  const query = ['changesSince', 'copyChangesSince', 'copyMarkingSince'].includes(name)
    ? '?after=0'
    : name === 'rubricFile'
      ? '?as=csv'
      : '';
  const body = bodies[name]?.() ?? (route.method === 'GET' || route.takes === 'file' ? undefined : {});
  return callers[who].call(name, { params, query, ...(body === undefined ? {} : { body }) });
};

const names = Object.keys(routes) as RouteName[];
const aboutOneThing = names.filter((n) => routes[n].path.includes(':'));

describe('every route and who may call it', () => {
  test.each(names.filter((n) => routes[n].who !== 'anyone'))('%s: nobody is signed in', async (name) => {
    expect(await ask('nobody', name)).toMatchObject({
      status: 401,
      body: { error: { code: 'not-signed-in' } },
    });
  });

  test.each(names.filter((n) => routes[n].who === 'teacher'))('%s: not for students', async (name) => {
    expect(await ask('student', name)).toMatchObject({ status: 403, body: { error: { code: 'not-yours' } } });
  });

  test.each(names.filter((n) => routes[n].who === 'student'))('%s: not for teachers', async (name) => {
    expect(await ask('teacher', name)).toMatchObject({ status: 403 });
  });

  test.each(names.filter((n) => routes[n].who === 'administrator'))(
    '%s: for administrators alone',
    async (name) => {
      for (const who of ['teacher', 'student'] as const)
        expect(await ask(who, name), who).toMatchObject({
          status: 403,
          body: { error: { code: 'not-yours' } },
        });
    },
  );

  test.each(aboutOneThing.filter((n) => !['anyone', 'administrator'].includes(routes[n].who)))(
    '%s: an administrator finds nothing of what is in a class',
    async (name) => {
      expect([403, 404, 422]).toContain((await ask('administrator', name)).status);
    },
  );

  // What one is about to keep is not there yet: keeping it is one's own.
  test.each(
    aboutOneThing.filter(
      (n) => !['student', 'administrator'].includes(routes[n].who) && n !== 'keepVoicePart',
    ),
  )('%s: a teacher of another class finds nothing', async (name) => {
    expect(await ask('otherTeacher', name)).toMatchObject({
      status: 404,
      body: { error: { code: 'not-found' } },
    });
  });

  test.each(aboutOneThing.filter((n) => !['teacher', 'administrator'].includes(routes[n].who)))(
    '%s: another student finds nothing, in the class or out of it',
    async (name) => {
      for (const who of ['classmate', 'otherStudent'] as const)
        expect(await ask(who, name), who).toMatchObject({ status: 404 });
    },
  );

  test.each(names.filter((n) => routes[n].method !== 'GET' && routes[n].who !== 'anyone'))(
    '%s: a change without the page’s token is refused',
    async (name) => {
      const { who } = routes[name];
      const caller = who === 'student' || who === 'administrator' ? callers[who] : callers.teacher;
      const path = routes[name].path.replace(/:(\w+)/g, (_, k: string) => params[k]!);
      const reply = await caller.raw(routes[name].method, path, {
        headers: { 'x-jotmark-token': 'another' },
      });
      expect(reply.status).toBe(403);
      expect(await reply.json()).toMatchObject({ error: { code: 'stale-page' } });
    },
  );

  test('keepVoicePart: that another has recorded something is not learned by naming it', async () => {
    expect(await ask('otherTeacher', 'keepVoicePart')).toMatchObject({
      status: 422,
      body: { error: { code: 'voice-broken' } },
    });
  });

  test('a request that another site sends is refused, cookie or not', async () => {
    for (const headers of [
      { 'sec-fetch-site': 'cross-site' },
      { origin: 'https://elsewhere.example' },
    ] as Record<string, string>[])
      expect((await callers.teacher.raw('POST', '/api/sign-out', { headers })).status).toBe(403);
  });

  test('an unknown address under /api is a code, not a page', async () => {
    const reply = await callers.teacher.raw('GET', '/api/nothing');
    expect([reply.status, ((await reply.json()) as { error: { code: string } }).error.code]).toEqual([
      404,
      'not-found',
    ]);
  });

  test('ids that are none are refused before anything is asked', async () => {
    for (const bad of ["1' OR 1=1", '../../etc', 'x'.repeat(5000), '00000000-0000-0000-0000-000000000000'])
      expect((await callers.teacher.call('desk', { params: { copyId: bad } })).status, bad.slice(0, 20)).toBe(
        400,
      );
  });
});

describe('marking that was not handed back', () => {
  test('no student request names a table of it, and no answer holds a word of it', async () => {
    for (const name of names.filter((n) => ['student', 'person'].includes(routes[n].who))) {
      // Taking back asks whether a marking exists, and nothing else; a line never ends, a second step is not for students: their own tests below and in room.test.ts.
      if (
        ['signOut', 'addFile', 'takeBack', 'changePassword', 'startStep', 'copyLive', 'newsLive'].includes(
          name,
        )
      )
        continue;
      ear.heard = [];
      const reply = await ask('student', name);
      expect(ear.heard.length, name).toBeGreaterThan(0);
      for (const sql of ear.heard)
        expect(sql, name).not.toMatch(
          /\b(marking|mark|score|evening|answer_keys|marking_change|page_turns|hand_back_order)\b|content.*\brecalled_hand_back\b/i,
        );
      expect(JSON.stringify(reply.body), name).not.toContain('secret');
    }
  });

  test('taking back asks only whether there is one', async () => {
    ear.heard = [];
    const reply = await ask('student', 'takeBack');
    expect(reply.body.error).toEqual({ code: 'not-to-take-back', facts: {} });
    const named = ear.heard.filter((sql) => /\b(marking|mark|marking_change|page_turns)\b/i.test(sql));
    expect(named).toHaveLength(1);
    expect(named[0]).toMatch(
      /^SELECT 1 AS "?`?one`?"? FROM `marking` `m` WHERE `m`\.`hand_in_id` = \? LIMIT 1$/,
    );
  });

  test('the ear hears: a teacher’s desk does name them', async () => {
    ear.heard = [];
    await ask('teacher', 'desk');
    expect(ear.heard.join()).toMatch(/\bmarking\b/);
  });

  test('the student sees the copy as in, not as being marked or marked', async () => {
    expect((await ask('student', 'work')).body.row.place).toBe('in');
    const list = await callers.student.call('workList');
    expect(list.body.map((r: { place: string }) => r.place)).toEqual(['in']);
  });
});

describe('what was handed back and recalled', () => {
  /** All that a person gets to hear from every route they may call, about these very things. */
  const walk = async (who: 'student' | 'classmate' | 'otherTeacher' | 'otherStudent' | 'nobody') => {
    const heard: string[] = [];
    for (const name of names) {
      // These would change the state, or never end.
      if (
        ['signOut', 'changePassword', 'copyLive', 'newsLive', 'deskLive', 'roomLive', 'bankLive'].includes(
          name,
        )
      )
        continue;
      if (routes[name].method !== 'GET' && !['makePdf', 'opened', 'heard'].includes(name)) continue;
      const reply = await ask(who, name);
      heard.push(`${name} ${reply.status} ${JSON.stringify(reply.body)}`);
    }
    return heard.filter((h) => h.includes('secret'));
  };

  test('nobody finds a word of it: not before, not after it was recalled; in between its student alone', async () => {
    const everybody = ['student', 'classmate', 'otherTeacher', 'otherStudent', 'nobody'] as const;
    for (const who of everybody) expect(await walk(who), who).toEqual([]);
    const body = { copyIds: [params.copyId] };
    const pile = { params: { assignmentId: params.assignmentId! } };
    await callers.teacher.call('handBack', { ...pile, body });
    const work = await callers.student.call('work', { params: { copyId: params.copyId! } });
    params.handBackId = work.body.handBack.id;
    expect((await walk('student')).length).toBeGreaterThan(0);
    for (const who of everybody.slice(1)) expect(await walk(who), who).toEqual([]);
    await callers.teacher.call('recall', { ...pile, body: { ...body, tell: true, words: '' } });
    for (const who of everybody) expect(await walk(who), who).toEqual([]);
    // Nor the bytes of what was said.
    expect((await ask('student', 'voice')).status).toBe(404);
    expect((await ask('student', 'makePdf')).status).toBe(404);
  });
});

test('the contract is published as OpenAPI and names every route', async () => {
  const { body } = await callers.nobody.call('openapi');
  const operations = Object.values(
    body.paths as Record<string, Record<string, { operationId: string }>>,
  ).flatMap((p) => Object.values(p).map((o) => o.operationId));
  expect(operations.sort()).toEqual([...names].sort());
});

test('answers carry the headers that keep a browser honest', async () => {
  const page = await callers.nobody.raw('GET', '/api/health');
  expect(page.headers.get('content-security-policy')).toContain("script-src 'self' 'wasm-unsafe-eval'");
  expect(page.headers.get('content-security-policy')).not.toMatch(/script-src[^;]*unsafe-inline/);
  expect(page.headers.get('x-content-type-options')).toBe('nosniff');
  const file = await callers.teacher.raw('GET', `/api/documents/${params.documentId}/file`);
  expect(file.headers.get('content-security-policy')).toContain('sandbox');
  expect(file.headers.get('content-type')).toBe('application/pdf');
});
