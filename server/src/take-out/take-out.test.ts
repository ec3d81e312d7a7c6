import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type NoteMark, type OutOrder, type RemarkId, readCsv } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { roomOnDisk } from '../tasks/take-out.ts';
import { handedIn, handInFor } from '../testing/handed-in.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { closing, done, grade, id, note, put } from '../testing/marks.ts';
import { namesIn, partOfZip } from '../testing/zips.ts';
import { Names, ZipFolder } from './folder.ts';

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
    const said = readCsv(partOfZip(logs.path, 'Feedback.csv').toString('utf8'), 100).cells.map((l) => l[9]);
    expect(said).toContain("'=1+1 is “two”, Ada");
    expect(said).toContain('Good reading.');
    expect(logs.name).toMatch(/\.zip$/);
    const notes = readCsv(partOfZip(logs.path, 'Notes.csv').toString('utf8'), 100).cells;
    expect(notes[0]).toContain('What became of it');
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
    const files = namesIn(path);
    expect(files).toHaveLength(4);
    expect(files).toContain('index.csv');
    const marked = files.find((f) => f.endsWith('Map work, marked.pdf'))!;
    expect(files.find((f) => f.includes('/as it came/'))!.split('/')[0]).toBe(marked.split('/')[0]);
    const pdf = join(folder, 'marked.pdf');
    writeFileSync(pdf, partOfZip(path, marked));
    execFileSync('qpdf', ['--check', pdf]);
    expect(textOf(pdf)).toMatch(/Good reading\..*Grade 6½ \/ 10/);
    const index = partOfZip(path, 'index.csv').toString('utf8');
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
      namesIn(path)
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
    expect(namesIn(before.path).filter((f) => f.endsWith('.pdf'))).toHaveLength(1);
    await h.teacherCaller.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId] },
    });
    const { path } = await saved(h.student, 'mine');
    const marked = namesIn(path).find((f) => f.endsWith('marked.pdf'))!;
    const pdf = join(folder, 'mine.pdf');
    writeFileSync(pdf, partOfZip(path, marked));
    expect(textOf(pdf)).toContain('Good reading.');
  });
});

describe('marks for other programs, and back', () => {
  const marked = async () => {
    const h = await handedIn(running);
    const box = note(h.documentId, 'Give the unit & say “why”.', {
      focus: 'method',
      place: { on: 'box', box: [100, 120, 220, 180] },
    } as Partial<NoteMark>);
    const ink = {
      ...note(h.documentId, ''),
      kind: 'ink',
      points: [10000, 10000, 128, 12000, 11000, 128, 15000, 10500, 128],
      width: 2,
    } as unknown as Record<string, unknown>;
    delete ink.words;
    delete ink.place;
    const line = { ...ink, id: id(), kind: 'arrow', from: [50, 60], to: [150, 90], width: 1.5 };
    delete (line as Record<string, unknown>).points;
    await h.send(put(box), put(ink as never), put(line as never));
    return { ...h, box };
  };
  const brought = (
    h: Awaited<ReturnType<typeof marked>>,
    name: string,
    bytes: Uint8Array,
    handInId = h.handInId,
  ) => h.teacherCaller.send(`/api/hand-ins/${handInId}/marked-file`, [[name, bytes]]);

  test('as XFDF that fits the form of ISO 19444-1, and read back in the same places', async () => {
    const h = await marked();
    const { path, name } = await saved(h.teacherCaller, { what: 'marks', handInId: h.handInId, as: 'xfdf' });
    expect(name).toMatch(/\.xfdf$/);
    const text = readFileSync(path, 'utf8');
    // Another program's parser reads it as XML.
    const told = execFileSync('python3', [
      '-c',
      'import sys,xml.etree.ElementTree as E; r=E.parse(sys.argv[1]).getroot(); n="{http://ns.adobe.com/xfdf/}"; print(r.tag==n+"xfdf", sorted(a.tag.replace(n,"") for a in r.find(n+"annots")), r.find(n+"annots/"+n+"square").find(n+"contents").text)',
      path,
    ]).toString();
    expect(told).toContain("True ['ink', 'line', 'square'] Give the unit & say “why”.");
    expect(text).toMatch(/<square page="0" rect="[\d.,]+" color="#B0243B"[^>]*subject="method"/);

    const { status, body } = await brought(h, name, readFileSync(path));
    expect(status, JSON.stringify(body)).toBe(200);
    const there = Object.fromEntries(body.marks.map((m: Loose) => [m.kind, m]));
    expect(Object.keys(there).sort()).toEqual(['arrow', 'ink', 'note']);
    expect(there.note).toMatchObject({
      words: 'Give the unit & say “why”.',
      focus: 'method',
      document: h.documentId,
    });
    // To within the breadth of the line that other programs leave round a box.
    for (const [i, at] of [100, 120, 220, 180].entries())
      expect(Math.abs(there.note.place.box[i] - at)).toBeLessThanOrEqual(1);
    expect(there.arrow.from.map(Math.round)).toEqual([50, 60]);
  });

  test('as Web Annotations with page, rectangle and words; read back they are the very marks', async () => {
    const h = await marked();
    const { path } = await saved(h.teacherCaller, { what: 'marks', handInId: h.handInId, as: 'jsonld' });
    const told = JSON.parse(readFileSync(path, 'utf8'));
    expect(told['@context'][0]).toBe('http://www.w3.org/ns/anno.jsonld');
    expect(told.items).toHaveLength(3);
    const item = told.items.find((i: Loose) => i.id === `urn:uuid:${h.box.id}`);
    expect(item).toMatchObject({ type: 'Annotation', motivation: 'commenting', creator: { type: 'Person' } });
    expect(item.target.selector[0].value).toMatch(/^page=1&viewrect=/);
    const { body } = await brought(h, 'marks.jsonld', readFileSync(path));
    expect(body.marks.find((m: Loose) => m.id === h.box.id)).toEqual(h.box);

    // Of another program: no mark of ours in it, a page that is not there, and one without any place.
    const others = {
      type: 'AnnotationPage',
      items: [
        {
          id: 'http://other.example/1',
          type: 'Annotation',
          body: { type: 'TextualBody', value: 'Well drawn.' },
          target: { selector: { type: 'FragmentSelector', value: 'page=1&viewrect=20,30,100,40' } },
        },
        { body: 'x', target: { selector: { type: 'FragmentSelector', value: 'page=99' } } },
        { body: 'y', target: { source: 'http://other.example/' } },
      ],
    };
    const from = await brought(h, 'theirs.json', Buffer.from(JSON.stringify(others)));
    expect(from.body).toMatchObject({
      marks: [{ kind: 'note', words: 'Well drawn.', place: { on: 'box', box: [20, 30, 120, 70] } }],
      offPage: 1,
      unknown: [{ kind: 'annotation', count: 1 }],
    });
  });

  test('made for another copy they are refused, and so is what is neither', async () => {
    const h = await marked();
    const other = await marked();
    const { path } = await saved(h.teacherCaller, { what: 'marks', handInId: h.handInId, as: 'xfdf' });
    const refused = await brought(other, 'marks.xfdf', readFileSync(path));
    expect(refused.body.error).toMatchObject({ code: 'other-document', facts: { name: 'marks.xfdf' } });
    for (const text of [
      '<html><p>no</p></html>',
      '{"a":1}',
      '<!DOCTYPE x [<!ENTITY a "b">]><xfdf/>',
      '<xfdf',
    ])
      expect((await brought(h, 'no.xfdf', Buffer.from(text))).body.error.code, text).toBe('not-marks');
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
    const all = namesIn(path)
      .map((n) => n + partOfZip(path, n).toString('latin1'))
      .join('\n');
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

  test('a full disk ends it with why, and is not tried again; any other trouble is', async () => {
    const full = Object.assign(new Error('write'), { code: 'ENOSPC' });
    // A real one: a file that is always full, as Linux has it.
    const zip = new ZipFolder('/dev/full');
    const written = zip.add([], 'a.txt', Buffer.alloc(300_000, 'x')).then(() => zip.end());
    await expect(roomOnDisk(() => written)).rejects.toMatchObject({ code: 'disk-full' });
    await expect(roomOnDisk(() => Promise.reject(full))).rejects.toMatchObject({ code: 'disk-full' });
    const other = new Error('something else');
    await expect(roomOnDisk(() => Promise.reject(other))).rejects.toBe(other);
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
