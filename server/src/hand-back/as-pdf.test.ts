import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type NoteMark, PLAIN_HAND_BACK } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, testServer } from '../testing/house.ts';
import { closing, done, grade, note, put } from '../testing/marks.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

type Handed = Awaited<ReturnType<typeof handedIn>>;
const folder = mkdtempSync(join(tmpdir(), 'jotmark-cover-'));

/** What another program reads on the pages of the PDF that the student saves. */
async function pagesOf(
  h: Pick<Handed, 'student' | 'copyId'>,
): Promise<{ byJob: string[]; byHandBack: string[] }> {
  const handBackId = await backOf(h);
  const { body } = await h.student.call('makePdf', { params: { handBackId } });
  await h.student.outcome(body.jobId);
  const read = async (path: string) => {
    const reply = await h.student.raw('GET', path);
    expect(reply.status).toBe(200);
    const file = join(folder, 'marked.pdf');
    writeFileSync(file, new Uint8Array(await reply.arrayBuffer()));
    execFileSync('qpdf', ['--check', file]);
    const pages = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).split('\f');
    return pages.slice(0, -1).map((p) => p.replace(/\s+/g, ' ').trim());
  };
  return {
    byJob: await read(`/api/jobs/${body.jobId}/file`),
    byHandBack: await read(`/api/hand-backs/${handBackId}/pdf`),
  };
}

const backOf = async (h: Pick<Handed, 'student' | 'copyId'>): Promise<string> =>
  (await h.student.call('work', { params: { copyId: h.copyId } })).body.handBack.id;

describe('the PDF of a marked copy', () => {
  test('has a cover sheet in front: whose it is, the closing words and the grade', async () => {
    const h = await handedIn(running);
    await h.send(grade(650), closing('Well read, Ada: **count** once more.'), done(true));
    const pile = { assignmentId: h.assignmentId };
    await h.teacherCaller.call('handBack', { params: pile, body: { copyIds: [h.copyId] } });
    const { byJob, byHandBack } = await pagesOf(h);
    expect(byHandBack).toEqual(byJob);
    expect(byJob.length).toBeGreaterThan(1);
    expect(byJob[0]).toMatch(/marked by .+, \d+ \w+ \d{4} Well read, Ada: count once more\. Grade 6½ \/ 10$/);
  });

  test('as long as the grade waits for notes to be opened it is not in it, and then it is', async () => {
    const h = await handedIn(running);
    const mark = note(h.documentId, 'Count again') as NoteMark;
    await h.send(put(mark), grade(650), closing('Well read.'), done(true));
    await h.teacherCaller.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId], how: { ...PLAIN_HAND_BACK, gradeAfter: true }, at: null },
    });
    const before = await pagesOf(h);
    expect(before.byHandBack).toEqual(before.byJob);
    expect(before.byJob[0]).toContain('Shown in Jotmark when all notes have been opened.');
    expect(before.byJob.join()).not.toContain('6½');
    await h.student.call('opened', { params: { handBackId: await backOf(h) }, body: { marks: [mark.id] } });
    const after = await pagesOf(h);
    expect(after.byHandBack).toEqual(after.byJob);
    expect(after.byJob[0]).toContain('Grade 6½ / 10');
  });

  test('there is one also where nothing came in: the cover sheet alone', async () => {
    const h = await handedIn(running);
    const copyId = h.copyOf(1);
    const sent = await h.teacherCaller.call('sendCopyMarking', {
      params: { copyId },
      body: { changes: [closing('A clear talk.'), grade(900), done(true)] },
    });
    expect(sent.body.results.map((r: { outcome: string }) => r.outcome)).toEqual([
      'applied',
      'applied',
      'applied',
    ]);
    await h.teacherCaller.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [copyId] },
    });
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const { byJob } = await pagesOf({ ...h, copyId, student: ben });
    expect(byJob).toHaveLength(1);
    expect(byJob[0]).toMatch(/A clear talk\. Grade 9 \/ 10$/);
  });
});
