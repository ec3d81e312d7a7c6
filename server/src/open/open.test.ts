import { execFileSync } from 'node:child_process';
import type { NoteMark } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { setAssignment } from '../assignment/set.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { closing, done, grade, note, put } from '../testing/marks.ts';
import { keepSpoken, recordingOfBytes, spoken } from '../testing/voices.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({ workers: 2 }, { now: () => clock });
});
afterAll(() => running.stop());
const nobody = () => new Caller(running.address);

describe('an address for the family', () => {
  test('opens what went back with what was said in it, and nothing that is held; revoked it opens nothing', async () => {
    const h = await handedIn(running);
    const params = { classId: h.classId, personId: h.students[0]!.id };
    const file = await keepSpoken(h.teacherCaller, spoken());
    const voice = recordingOfBytes(spoken());
    await h.send(
      put(note(h.documentId, 'Well seen.', { voice } as Partial<NoteMark>)),
      grade(900),
      closing('A good eye.'),
      done(true),
    );
    const ask = async (open: boolean | null) =>
      (await h.teacherCaller.call('logAddress', { params, body: { open } })).body.token as string | null;
    expect(await ask(null)).toBeNull();
    const token = (await ask(true))!;
    const read = () => nobody().call('familyLog', { params: { token } });
    const hear = (t: string) => nobody().raw('GET', `/api/open/${t}/voice/${file}`);
    expect((await read()).body.log.entries).toEqual([]);
    expect((await hear(token)).status).toBe(404);

    await h.teacherCaller.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId] },
    });
    const { body } = await read();
    expect(body.log.entries).toMatchObject([{ grade: 900, closing: 'A good eye.' }]);
    expect(body.school).toBe('Test school');
    expect((await hear(token)).status).toBe(200);
    // Another student's address hears nothing of it.
    const ben = await h.teacherCaller.call('logAddress', {
      params: { ...params, personId: h.students[1]!.id },
      body: { open: true },
    });
    expect((await hear(ben.body.token)).status).toBe(404);
    expect((await nobody().call('calendar', { params: { token } })).status).toBe(404);

    const second = (await ask(true))!;
    expect((await read()).status).toBe(404);
    expect((await nobody().call('familyLog', { params: { token: second } })).status).toBe(200);
    await h.teacherCaller.call('archiveClass', { params, body: { archived: true } });
    expect((await nobody().call('familyLog', { params: { token: second } })).status).toBe(404);
  });
});

/** Of each event: what it is called, when it is, and what the reader found wrong with it. */
const readElsewhere = (text: string): unknown =>
  JSON.parse(
    execFileSync(
      '/usr/bin/python3',
      [
        '-c',
        `import sys, json, icalendar
whole = icalendar.Calendar.from_ical(sys.stdin.buffer.read())
print(json.dumps([[str(e['SUMMARY']), e.decoded('DTSTART').isoformat(), e.errors + whole.errors] for e in whole.walk('VEVENT')]))`,
      ],
      { input: text, encoding: 'utf8' },
    ),
  );

describe('due dates as a calendar', () => {
  test('as whoever asked sees them: a student their own date; who left, or a revoked address, none', async () => {
    const h = await handedIn(running);
    const due = Date.UTC(2027, 0, 15, 17, 0);
    const title =
      'Ün, deux; trois, and a title that is so long that its line must be folded somewhere in the middle of it';
    const set = await setAssignment(running.house, {
      classId: h.classId,
      title,
      instructions: '',
      dueAt: due,
      most: null,
      category: 'homework',
    });
    const later = due + 86_400_000;
    await h.teacherCaller.call('studentTerms', {
      params: { assignmentId: set.id, personId: h.students[0]!.id },
      body: { excused: false, dueAt: later },
    });
    const params = { classId: h.classId };
    const dates = async (caller: Caller) => {
      const { body } = await caller.call('calendarAddress', { body: { ...params, open: true } });
      return `/api/open/${body.token}/due.ics`;
    };
    const [teachers, students] = [await dates(h.teacherCaller), await dates(h.student)];
    const reply = await nobody().raw('GET', teachers);
    expect(reply.headers.get('content-type')).toBe('text/calendar; charset=utf-8');
    const text = await reply.text();
    // RFC 5545: lines end with CRLF and have at most 75 octets, what is required is there, commas and semicolons are escaped.
    expect(text.endsWith('END:VCALENDAR\r\n') || text.endsWith('END:VCALENDAR')).toBe(true);
    for (const line of text.split('\r\n')) {
      expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
      expect(line).not.toContain('\n');
    }
    const whole = text.replace(/\r\n[ \t]/g, '');
    for (const part of ['VERSION:2.0', 'PRODID:', 'UID:', 'DTSTAMP:', 'DTSTART:20270115T170000Z'])
      expect(whole).toContain(part);
    expect(whole).toContain('SUMMARY:Due: Ün\\, deux\\; trois\\,');
    expect(await (await nobody().raw('GET', students)).text()).toContain('DTSTART:20270116T170000Z');
    // Another program reads it, and nothing in it that it would have to forgive.
    expect(readElsewhere(text)).toEqual([[`Due: ${title}`, '2027-01-15T17:00:00+00:00', []]]);

    await h.teacherCaller.call('removeStudent', { params: { ...params, personId: h.students[0]!.id } });
    expect((await nobody().raw('GET', students)).status).toBe(404);
    await h.teacherCaller.call('calendarAddress', { body: { ...params, open: false } });
    expect((await nobody().raw('GET', teachers)).status).toBe(404);
  });

  test('nobody gets the dates of a class they are not in', async () => {
    const h = await handedIn(running);
    const other = await smallClass(running, ['cyd']);
    const stranger = await new Caller(running.address).signIn(other.teacher.login);
    const asked = await stranger.call('calendarAddress', { body: { classId: h.classId, open: true } });
    expect(asked.status).toBe(404);
  });
});

test('who looked at or changed what is kept for as long as the school says, and told to teachers of the class', async () => {
  const h = await handedIn(running);
  const params = { classId: h.classId };
  await h.teacherCaller.call('markBook', { params });
  await h.teacherCaller.call('feedbackLog', { params: { ...params, personId: h.students[0]!.id } });
  await h.teacherCaller.call('takeOut', { body: { order: { what: 'mark-book', ...params, as: 'csv' } } });
  await h.teacherCaller.call('setBlind', { params: { assignmentId: h.assignmentId }, body: { blind: true } });
  // What was refused is no act.
  await h.student.call('markBook', { params });
  const told = async () => (await h.teacherCaller.call('acts', { params })).body as Loose[];
  expect((await told()).map((a) => [a.act, a.title, a.about !== ''])).toEqual([
    ['setBlind', 'Map work', false],
    ['takeOut', '', false],
    ['feedbackLog', '', true],
    ['markBook', '', false],
    ['desk', 'Map work', false],
  ]);
  const other = await smallClass(running, ['cyd']);
  const stranger = await new Caller(running.address).signIn(other.teacher.login);
  expect((await stranger.call('acts', { params })).status).toBe(404);
  clock += 401 * 86_400_000;
  const again = await new Caller(running.address).signIn(h.teacher.login);
  await again.call('markBook', { params });
  expect(((await again.call('acts', { params })).body as Loose[]).map((a) => a.act)).toEqual(['markBook']);
});

test('an archived class leaves every list and comes back whole', async () => {
  const h = await handedIn(running);
  const params = { classId: h.classId };
  const archive = (archived: boolean) => h.teacherCaller.call('archiveClass', { params, body: { archived } });
  const lists = async () => [
    (await h.teacherCaller.call('today', {})).body.length,
    (await h.student.call('workList', {})).body.length,
    (await h.teacherCaller.call('classes', {})).body.find((c: Loose) => c.id === h.classId).archived,
  ];
  expect(await lists()).toEqual([1, 1, false]);
  await archive(true);
  expect(await lists()).toEqual([0, 0, true]);
  clock += 1000;
  expect((await h.teacherCaller.call('markBook', { params })).body.cells).toHaveLength(2);
  await archive(false);
  expect(await lists()).toEqual([1, 1, false]);
});
