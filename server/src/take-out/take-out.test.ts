import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type NoteMark, type OutOrder, type RemarkId, readCsv } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn, handInFor } from '../testing/handed-in.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { closing, done, grade, id, note, put } from '../testing/marks.ts';
import { Names } from './folder.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 2 });
});
afterAll(() => running.stop());

const folder = mkdtempSync(join(tmpdir(), 'jotmark-out-'));

/** Orders a file and gives the path under which it was saved, and what it is called. */
async function saved(caller: Caller, order: OutOrder | 'mine'): Promise<{ path: string; name: string }> {
  const { status, body } =
    order === 'mine'
      ? await caller.call('takeOutMine', {})
      : await caller.call('takeOut', { body: { order } });
  if (status !== 200) throw new Error(JSON.stringify(body));
  const outcome = await caller.outcome(body.jobId);
  if (outcome.status !== 200) throw new Error(JSON.stringify(outcome.body));
  const reply = await caller.raw('GET', `/api/jobs/${body.jobId}/file`);
  const { name } = outcome.body as Loose;
  const path = join(folder, `${body.jobId}.${name.split('.').at(-1)}`);
  writeFileSync(path, new Uint8Array(await reply.arrayBuffer()));
  return { path, name };
}

/** What LibreOffice reads in the first sheet of a file. */
function asLibreOfficeReads(path: string): string[][] {
  execFileSync('soffice', [
    `-env:UserInstallation=file://${join(folder, 'profile')}`,
    '--headless',
    '--convert-to',
    'csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,true,false,false,false,1',
    '--outdir',
    join(folder, 'read'),
    path,
  ]);
  const made = execFileSync('ls', ['-t', join(folder, 'read')], { encoding: 'utf8' }).split('\n')[0]!;
  return readCsv(readFileSync(join(folder, 'read', made), 'utf8'), 1000).cells.filter(
    (line) => line.length > 1,
  );
}

const listed = (path: string): string[] =>
  execFileSync('unzip', ['-Z1', path], { encoding: 'utf8' }).trim().split('\n').sort();
const textOf = (path: string): string =>
  execFileSync('pdftotext', ['-layout', path, '-'], { encoding: 'utf8' }).replace(/\s+/g, ' ');

async function school() {
  const h = await handedIn(running);
  await h.send(
    put(note(h.documentId, 'Give the unit.', { focus: 'method', points: -50 } as Partial<NoteMark>)),
    grade(650),
    closing('Good reading.'),
    done(true),
  );
  return h;
}

describe('taken out as a sheet', () => {
  test.each(['xlsx', 'ods'] as const)(
    'the mark book as %s: another program reads the same numbers',
    async (as) => {
      const h = await school();
      const { path, name } = await saved(h.teacherCaller, { what: 'mark-book', classId: h.classId, as });
      expect(name).toMatch(new RegExp(`, mark book\\.${as}$`));
      const [head, ...rows] = asLibreOfficeReads(path);
      expect(head).toEqual(['Student', 'Map work / 10', 'So far, %']);
      expect(rows.map((r) => r.slice(1))).toEqual([
        ['6.5', '65'],
        ['', ''],
      ]);
    },
  );

  test('scores and logs as CSV, numbers as numbers; names that look like formulas are words', async () => {
    const h = await school();
    await h.teacherCaller.call('addRemark', {
      params: { classId: h.classId },
      body: {
        id: id<RemarkId>(),
        to: [h.students[0]!.id],
        words: '=1+1 is “two”, Ada',
        at: 1,
        work: '',
        strand: '',
      },
    });
    const scores = await saved(h.teacherCaller, { what: 'scores', assignmentId: h.assignmentId, as: 'csv' });
    const lines = readCsv(readFileSync(scores.path, 'utf8'), 100).cells;
    expect(lines[1]!.slice(1, 5)).toEqual(['marked', '6.5', '10', '']);
    const logs = await saved(h.teacherCaller, { what: 'logs', classId: h.classId, as: 'csv' });
    const said = readCsv(readFileSync(logs.path, 'utf8'), 100).cells.map((l) => l[9]);
    expect(said).toContain("'=1+1 is “two”, Ada");
    expect(said).toContain('Good reading.');
  });
});

describe('taken out as pages', () => {
  test('a pile in named folders, with an index: marked PDFs with a cover sheet, and the files as they came', async () => {
    const h = await school();
    const { path } = await saved(h.teacherCaller, {
      what: 'pile',
      assignmentId: h.assignmentId,
      copyIds: null,
      as: 'zip',
    });
    const files = listed(path);
    expect(files).toHaveLength(4);
    expect(files).toContain('index.csv');
    const marked = files.find((f) => f.endsWith('Map work, marked.pdf'))!;
    expect(files.find((f) => f.includes('/as it came/'))!.split('/')[0]).toBe(marked.split('/')[0]);
    const pdf = join(folder, 'marked.pdf');
    writeFileSync(pdf, execFileSync('unzip', ['-p', path, marked]));
    execFileSync('qpdf', ['--check', pdf]);
    expect(textOf(pdf)).toMatch(/Good reading\..*Grade 6½ \/ 10/);
    const index = execFileSync('unzip', ['-p', path, 'index.csv'], { encoding: 'utf8' });
    expect(readCsv(index, 100).cells[1]!.slice(2, 5)).toEqual([marked, 'marked', '6.5']);
  });

  test('to print: notes beside the page level with their places, or on an extra page, or the pages bare', async () => {
    const h = await school();
    const print = async (as: 'print' | 'print-beside' | 'print-unmarked') =>
      (await saved(h.teacherCaller, { what: 'pile', assignmentId: h.assignmentId, copyIds: null, as })).path;
    const beside = await print('print-beside');
    execFileSync('qpdf', ['--check', beside]);
    expect(textOf(beside)).toContain('−½ method: Give the unit.');
    // On the second sheet, behind the cover: the note stands level with its place, 100 pt from the top, right of the page.
    const words = execFileSync('pdftotext', ['-bbox', '-f', '2', '-l', '2', beside, '-'], {
      encoding: 'utf8',
    });
    const at = /xMin="([\d.]+)" yMin="([\d.]+)" xMax="[\d.]+" yMax="[\d.]+">method:/.exec(words)!;
    const wide = Number(/page width="([\d.]+)"/.exec(words)![1]);
    expect(Number(at[1])).toBeGreaterThan(wide - 190);
    expect(Math.abs(Number(at[2]) - 100)).toBeLessThan(16);
    expect(textOf(await print('print'))).toContain('1 method: Give the unit.');
    expect(textOf(await print('print-unmarked'))).not.toContain('Give the unit.');
  });

  test('a whole class, by class, work and student; and a log for a talk with only what was chosen', async () => {
    const h = await school();
    const { path } = await saved(h.teacherCaller, { what: 'class', classId: h.classId });
    expect(
      listed(path)
        .find((f) => f.endsWith('marked.pdf'))!
        .split('/'),
    ).toHaveLength(4);
    const sheet = async () =>
      textOf(
        (
          await saved(h.teacherCaller, {
            what: 'log-sheet',
            classId: h.classId,
            personId: h.students[0]!.id,
            parts: ['grades', 'words'],
            term: '',
          })
        ).path,
      );
    // What is held is on no paper for the family.
    expect(await sheet()).not.toContain('Good reading.');
    await h.teacherCaller.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId] },
    });
    const said = await sheet();
    expect(said).toMatch(/Map work Grade 6½ \/ 10 Good reading\./);
    expect(said).not.toContain('Give the unit.');
  });

  test('a student gets all their own, and nothing of what is held', async () => {
    const h = await school();
    const before = await saved(h.student, 'mine');
    expect(listed(before.path).filter((f) => f.endsWith('.pdf'))).toHaveLength(1);
    await h.teacherCaller.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId] },
    });
    const { path } = await saved(h.student, 'mine');
    const marked = listed(path).find((f) => f.endsWith('marked.pdf'))!;
    const pdf = join(folder, 'mine.pdf');
    writeFileSync(pdf, execFileSync('unzip', ['-p', path, marked]));
    expect(textOf(pdf)).toContain('Good reading.');
  });
});

describe('who may take out what, and what goes wrong', () => {
  test('nobody takes out another teacher’s class or pile, and files are fetched by who ordered them alone', async () => {
    const h = await school();
    const other = await smallClass(running, ['cyd']);
    const stranger = await new Caller(running.address).signIn(other.teacher.login);
    const orders: OutOrder[] = [
      { what: 'mark-book', classId: h.classId, as: 'csv' },
      { what: 'class', classId: h.classId },
      { what: 'scores', assignmentId: h.assignmentId, as: 'csv' },
      { what: 'pile', assignmentId: h.assignmentId, copyIds: null, as: 'zip' },
      // A class of theirs, and a student who is not in it.
      { what: 'log', classId: h.classId, personId: h.students[0]!.id, as: 'csv' },
    ];
    for (const order of orders)
      expect((await stranger.call('takeOut', { body: { order } })).status, order.what).toBe(404);
    const own = await stranger.call('takeOut', {
      body: { order: { what: 'log', classId: other.classId, personId: h.students[0]!.id, as: 'csv' } },
    });
    expect((await stranger.outcome(own.body.jobId)).status).toBe(404);
    const mine = await h.teacherCaller.call('takeOut', {
      body: { order: { what: 'mark-book', classId: h.classId, as: 'csv' } },
    });
    await h.teacherCaller.outcome(mine.body.jobId);
    const jobId = mine.body.jobId;
    expect((await stranger.raw('GET', `/api/jobs/${jobId}/file`)).status).toBe(404);
    expect((await stranger.call('jobStop', { params: { jobId } })).status).toBe(404);
  });

  test('of a blind pile neither folders nor index nor scores tell a name', async () => {
    const h = await school();
    await h.teacherCaller.call('setBlind', {
      params: { assignmentId: h.assignmentId },
      body: { blind: true },
    });
    const order = { what: 'pile', assignmentId: h.assignmentId, copyIds: null, as: 'zip' } as const;
    const { path } = await saved(h.teacherCaller, order);
    const all = listed(path).join('\n') + execFileSync('unzip', ['-p', path], { encoding: 'latin1' });
    expect(all).not.toContain(h.students[0]!.given);
  });

  test('an empty pile says so; what is stopped leaves no file', async () => {
    const h = await school();
    const empty = await smallClass(running, ['cyd']);
    const teacher = await new Caller(running.address).signIn(empty.teacher.login);
    const order: OutOrder = { what: 'pile', assignmentId: empty.assignmentId, copyIds: null, as: 'print' };
    const { body } = await teacher.call('takeOut', { body: { order } });
    expect((await teacher.outcome(body.jobId)).body.error.code).toBe('nothing-to-take-out');

    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    await handInFor(ben, h.teacherCaller, h.copyOf(1));
    const made = await h.teacherCaller.call('takeOut', {
      body: { order: { what: 'class', classId: h.classId } },
    });
    const params = { jobId: made.body.jobId };
    const stopped = await h.teacherCaller.call('jobStop', { params });
    expect(stopped.body.refused?.code).toBe('stopped');
    // What is ordered after it is done: so it would have been.
    await saved(h.teacherCaller, { what: 'mark-book', classId: h.classId, as: 'csv' });
    expect((await h.teacherCaller.call('job', { params })).body.refused.code).toBe('stopped');
    expect((await h.teacherCaller.raw('GET', `/api/jobs/${params.jobId}/file`)).status).toBe(404);
  });

  test('names that are alike are kept apart, also where only their case differs', () => {
    const names = new Names();
    expect(['Kim/a.pdf', 'kim/A.pdf', 'Kim/a.pdf', 'Kim/b'].map((n) => names.take(n))).toEqual([
      'Kim/a.pdf',
      'kim/A 2.pdf',
      'Kim/a 3.pdf',
      'Kim/b',
    ]);
  });
});
