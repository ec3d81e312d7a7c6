import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  bandsOver,
  type Change,
  type ChangeId,
  type DocumentId,
  type Mark,
  type MarkId,
  makeId,
  quoteOf,
  richFromPlain,
} from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { Caller, readingDone, smallClass, testServer } from './house.ts';
import { plainPdf } from './pdfs.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

let tick = Date.now();
/** Ids a millisecond apart, so that their order is the order they were made in. */
const id = <T extends string>() => makeId(tick++, crypto.getRandomValues(new Uint8Array(10))) as T;

describe('from a student’s file to a marked copy in the student’s hands', () => {
  test('the whole way, and not a word of it before it is handed back', async () => {
    const school = await smallClass(running);
    const ada = await new Caller(running.address).signIn(school.students[0]!.login);
    const teacher = await new Caller(running.address).signIn(school.teacher.login);
    const copyId = school.copyOf(0);

    const laid = await ada.upload(
      copyId,
      await plainPdf(['The hill is steep on the north side', 'and flat on the other side']),
      'karte – Ünal.pdf',
    );
    expect(laid).toMatchObject({ status: 200, body: { name: 'karte – Ünal.pdf', pages: 1 } });
    const documentId: DocumentId = laid.body.id;
    const handedIn = await ada.handIn(copyId);
    expect(handedIn.body).toMatchObject({
      instructions: richFromPlain('Take a ruler.'),
      row: { place: 'in' },
      handIn: { number: 1 },
    });
    expect(await readingDone(ada, documentId)).toBe('done');

    const pile = await teacher.call('pile', { params: { assignmentId: school.assignmentId } });
    expect(pile.body.rows.map((r: { place: string }) => r.place)).toEqual(['in', 'with-student']);
    const desk = await teacher.call('desk', { params: { copyId } });
    const handInId = desk.body.handIn.id;
    const { body: text } = await teacher.call('documentText', { params: { documentId } });
    expect(text[0].words.slice(0, 4).map((w: { text: string }) => w.text)).toEqual([
      'The',
      'hill',
      'is',
      'steep',
    ]);

    const base = {
      v: 2 as const,
      document: documentId,
      page: 0,
      colour: 'garnet' as const,
      focus: null,
      madeAt: Date.now(),
    };
    const range = { from: 1, to: 3 };
    const marks: Mark[] = [
      { ...base, id: id<MarkId>(), kind: 'ink', points: [10000, 20000, 128, 20000, 21000, 200], width: 1.6 },
      {
        ...base,
        id: id<MarkId>(),
        kind: 'highlight',
        place: { on: 'passage', bands: bandsOver(text[0], range), quote: quoteOf(text[0], range) },
      },
      {
        ...base,
        id: id<MarkId>(),
        kind: 'note',
        place: { on: 'spot', x: 300, y: 300 },
        words: 'Count the squares again',
      },
    ];
    const changes: Change[] = marks.map((mark) => ({
      id: id<ChangeId>(),
      base: null,
      type: 'put',
      mark,
      was: null,
    }));
    changes.push({ id: id<ChangeId>(), base: null, type: 'write', field: 'grade', value: 850, was: null });
    changes.push({
      id: id<ChangeId>(),
      base: null,
      type: 'write',
      field: 'closing',
      value: 'Well read.',
      was: '',
    });
    changes.push({ id: id<ChangeId>(), base: null, type: 'write', field: 'done', value: true, was: false });
    const sent = await teacher.call('sendChanges', { params: { handInId }, body: { changes } });
    expect(sent.body.results.map((r: { outcome: string }) => r.outcome)).toEqual(
      changes.map(() => 'applied'),
    );

    const before = await ada.call('work', { params: { copyId } });
    expect(before.body).toMatchObject({ row: { place: 'in' }, handBack: null });
    expect(JSON.stringify(before.body)).not.toContain('Well read');

    const back = await teacher.call('handBack', {
      params: { assignmentId: school.assignmentId },
      body: { copyIds: [copyId, school.copyOf(1)] },
    });
    expect(back.body).toEqual({ handedBack: [copyId], kept: [school.copyOf(1)], order: null });

    const after = await ada.call('work', { params: { copyId } });
    expect(after.body.row.place).toBe('handed-back');
    expect(after.body.handBack.snapshot).toMatchObject({
      grade: 850,
      most: 1000,
      closing: 'Well read.',
      marks,
    });
    const late = await teacher.call('sendChanges', {
      params: { handInId },
      body: { changes: [{ ...changes[4], id: id(), value: 'Changed', base: changes[4]!.id }] },
    });
    expect(late.body.results[0]).toMatchObject({ outcome: 'refused', reason: 'handed-back' });

    const handBackId = after.body.handBack.id;
    expect((await ada.call('pdfFile', { params: { handBackId } })).status).toBe(404);
    const { body } = await ada.call('makePdf', { params: { handBackId } });
    expect((await ada.outcome(body.jobId)).body).toMatchObject({ of: 'file' });
    const pdf = await ada.raw('GET', `/api/hand-backs/${handBackId}/pdf`);
    expect(pdf.headers.get('content-disposition')).toContain('marked.pdf');
    const file = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'marked.pdf');
    writeFileSync(file, new Uint8Array(await pdf.arrayBuffer()));
    expect(execFileSync('qpdf', ['--check', file], { encoding: 'utf8' })).toContain(
      'No syntax or stream encoding errors',
    );
  });
});
