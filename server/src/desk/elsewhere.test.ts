import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDocument, PDFString } from '@cantoo/pdf-lib';
import type { ChangeId, Mark, MarkId, PageFrame } from '@jotmark/core';
import { starterTrays, type TrayId } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { marksOn } from '../testing/every-kind.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, type Loose, readingDone, testServer } from '../testing/house.ts';
import { done, id, note, put } from '../testing/marks.ts';
import { plainPdf } from '../testing/pdfs.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
});
afterAll(() => running.stop());

const PNG =
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
const FRAME: PageFrame = { crop: [0, 0, 595, 842], rotate: 0, userUnit: 1 };
type HandedIn = Awaited<ReturnType<typeof handedIn>>;

/** A copy that is in, its pages read. */
async function copyIn(): Promise<HandedIn> {
  const h = await handedIn(running);
  await readingDone(h.teacherCaller, h.documentId);
  return h;
}

/** One mark of every kind on the copy's first page; its text is the file's own. */
async function allKinds(h: HandedIn): Promise<Mark[]> {
  const { body } = await h.teacherCaller.call('documentText', { params: { documentId: h.documentId } });
  const { marks } = marksOn(FRAME, body[0]);
  return marks.map((m) => ({ ...m, document: h.documentId }) as Mark);
}

async function pdfOf(
  h: HandedIn,
  as: 'notes' | 'flat',
): Promise<{ file: string; bytes: Uint8Array; name: string }> {
  const ordered = await h.teacherCaller.call('markedPdf', { params: { handInId: h.handInId }, body: { as } });
  expect((await h.teacherCaller.outcome(ordered.body.jobId)).status).toBe(200);
  const reply = await h.teacherCaller.raw('GET', `/api/jobs/${ordered.body.jobId}/file`);
  expect(reply.status).toBe(200);
  const bytes = new Uint8Array(await reply.arrayBuffer());
  const file = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), `${as}.pdf`);
  writeFileSync(file, bytes);
  expect(execFileSync('qpdf', ['--check', file], { encoding: 'utf8' })).toContain('No syntax or stream');
  return { file, bytes, name: decodeURIComponent(reply.headers.get('content-disposition') ?? '') };
}

async function bringIn(h: HandedIn, bytes: Uint8Array) {
  return h.teacherCaller.send(`/api/hand-ins/${h.handInId}/marked-file`, [['marked.pdf', bytes]]);
}

const byId = (marks: readonly Mark[]) => [...marks].sort((a, b) => a.id.localeCompare(b.id));

describe('a copy that is marked elsewhere', () => {
  test('goes out as it is marked now and comes in equal, with nothing the student does not get', async () => {
    const h = await copyIn();
    const marks = await allKinds(h);
    await h.send(...marks.map((m) => put(m)));
    const { bytes, name } = await pdfOf(h, 'notes');
    expect(name).toContain('marked.pdf');
    const { status, body } = await bringIn(h, bytes);
    expect(status).toBe(200);
    expect(byId(body.marks)).toEqual(byId(marks));
    expect(body).toMatchObject({ unknown: [], offPage: 0 });
    // Reading changes nothing.
    const desk = await h.teacherCaller.call('desk', { params: { copyId: h.copyId } });
    expect(desk.body.marking.seq).toBe(marks.length);
  });

  test('what another program put there and is no mark here comes in whole, goes out as it came, and can be taken away', async () => {
    const h = await copyIn();
    const pdf = await PDFDocument.load((await pdfOf(h, 'notes')).bytes);
    const stamp = {
      Type: 'Annot',
      Subtype: 'Stamp',
      Rect: [100, 700, 160, 720],
      Contents: PDFString.of('Draft'),
    };
    pdf.getPage(0).node.addAnnot(pdf.context.register(pdf.context.obj(stamp)));
    const { body } = await bringIn(h, await pdf.save());
    expect(body).toMatchObject({ unknown: [], marks: [{ kind: 'foreign', what: 'Stamp', said: 'Draft' }] });
    const [mark] = body.marks as [Mark];
    // One whose bytes are no annotation harms nobody.
    const { picture } = (await h.teacherCaller.call('keepPicture', { body: { base64: PNG } })).body;
    const broken = { ...mark, id: id<MarkId>(), pdf: picture } as Mark;
    const first = put(mark);
    const sent = await h.send(first, put(broken));
    expect(sent.results.map((r: Loose) => r.outcome)).toEqual(['applied', 'applied']);
    const out = await pdfOf(h, 'notes');
    const annots = (await PDFDocument.load(out.bytes)).getPage(0).node.Annots()!;
    expect(annots.size()).toBe(1);
    expect(String(annots.lookup(0))).toContain('/Subtype /Stamp');
    expect((await bringIn(h, out.bytes)).body.marks).toEqual([mark]);
    expect((await pdfOf(h, 'flat')).bytes.length).toBeGreaterThan(1000);
    await h.send({ id: id<ChangeId>(), base: first.id, type: 'remove', of: mark.id, was: mark });
    const desk = await h.teacherCaller.call('desk', { params: { copyId: h.copyId } });
    expect(desk.body.marking.marks.filter((m: Loose) => m.mark).map((m: Loose) => m.mark.id)).toEqual([
      broken.id,
    ]);
  });

  test('pages that say nothing of themselves are taken in their order; those the copy has not are counted', async () => {
    const h = await copyIn();
    const other = await copyIn();
    await other.send(put(note(other.documentId, 'for another')));
    const { bytes } = await pdfOf(other, 'notes');
    // The file says that it is another copy's.
    expect((await bringIn(h, bytes)).body).toMatchObject({ marks: [], offPage: 1 });
    expect((await bringIn(h, await plainPdf(['Another file'], 3))).body).toMatchObject({
      marks: [],
      unknown: [],
      offPage: 0,
    });
  });

  test('a file finds its copy by what it says of itself, else by the one student its name names', async () => {
    const h = await copyIn();
    await h.send(put(note(h.documentId, 'mine')));
    const { bytes } = await pdfOf(h, 'notes');
    const any = async (file: Uint8Array, name: string): Promise<Loose> =>
      (await h.teacherCaller.send(`/api/assignments/${h.assignmentId}/marked-file`, [[name, file]])).body;
    const said = await any(bytes, 'whatever.pdf');
    expect(said.to).toMatchObject({ copyId: h.copyId, handInId: h.handInId });
    expect(said.marks).toMatchObject([{ words: 'mine' }]);
    const ada = h.students[0]!;
    const named = await any(await plainPdf(), `Map work - ${ada.family}, ${ada.given}.pdf`);
    expect(named.to?.copyId).toBe(h.copyId);
    expect((await any(await plainPdf(), 'scan 12.pdf')).to).toBeNull();
    // The very same file is nobody's in another assignment.
    const other = await copyIn();
    const reply = await other.teacherCaller.send(`/api/assignments/${other.assignmentId}/marked-file`, [
      ['x.pdf', bytes],
    ]);
    expect(reply.body).toMatchObject({ to: null, marks: [] });
  });

  test('what is no PDF is refused with a code and changes nothing', async () => {
    const h = await copyIn();
    const reply = await bringIn(h, new TextEncoder().encode('not a PDF'));
    expect([reply.status, reply.body.error.code]).toEqual([415, 'file-not-pdf']);
  });

  test('flat for printing: no annotations, the marks are drawn, and every word of the notes stands on sheets behind', async () => {
    const h = await copyIn();
    const long = `Begin ${'look at the lines again '.repeat(120)}end of it.`;
    const marks = [
      ...(await allKinds(h)),
      note(h.documentId, long),
      note(h.documentId, 'Short one', { id: id<MarkId>() }),
    ];
    await h.send(...marks.map((m) => put(m)));
    const { file, name } = await pdfOf(h, 'flat');
    expect(name).toContain('to print.pdf');
    const text = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).replace(/\s+/g, ' ');
    expect(text).toContain('Short one');
    expect(text.match(/look at the lines again/g)).toHaveLength(120);
    expect(text).toContain('end of it.');
    const json = JSON.parse(
      execFileSync('qpdf', ['--json', '--json-key=qpdf', file], { encoding: 'utf8', maxBuffer: 1 << 26 }),
    );
    const kinds = Object.values(json.qpdf[1] as Record<string, { value?: Record<string, string> }>).map(
      (o) => o.value?.['/Type'],
    );
    expect(kinds).not.toContain('/Annot');
    const pixels = execFileSync('pdftoppm', ['-r', '36', '-f', '1', '-l', '1', '-singlefile', file], {
      maxBuffer: 1 << 26,
    });
    expect(
      [...pixels].filter((v, i) => i % 3 === 0 && v > 150 && pixels[i + 1]! < 90).length,
    ).toBeGreaterThan(20);
  });

  test('a handed-back copy is still read; its student never reaches these', async () => {
    const h = await copyIn();
    await h.send(put(note(h.documentId, 'secret')), done(true));
    const params = { handInId: h.handInId };
    expect((await h.student.call('markedPdf', { params, body: { as: 'notes' } })).status).toBe(403);
    expect((await h.student.call('deskLive', { params })).status).toBe(403);
  });
});

describe('the pen trays', () => {
  test('are one’s own: starter trays first, then as they were kept', async () => {
    const h = await handedIn(running);
    const first = await h.teacherCaller.call('trays');
    expect(first.body.trays.map((t: { name: string }) => t.name)).toEqual(['writing', 'numbers']);
    const own = { ...starterTrays(() => id<TrayId>()), side: 'left', out: 1 };
    expect((await h.teacherCaller.call('keepTrays', { body: own })).body).toEqual(own);
    const again = await new Caller(running.address).signIn(h.teacher.login);
    expect((await again.call('trays')).body).toEqual(own);
    const other = await handedIn(running);
    expect((await other.teacherCaller.call('trays')).body.side).toBe('middle');
  });

  test('that are none are refused and the kept ones stay', async () => {
    const h = await handedIn(running);
    const own = starterTrays(() => id<TrayId>());
    await h.teacherCaller.call('keepTrays', { body: own });
    for (const wrong of [
      { ...own, trays: [] },
      { ...own, out: -1 },
      {
        ...own,
        trays: [{ ...own.trays[0]!, pens: [{ tool: 'ink', name: 'x', colour: 'garnet', width: 1e9 }] }],
      },
    ])
      expect((await h.teacherCaller.call('keepTrays', { body: wrong })).status).toBe(400);
    expect((await h.teacherCaller.call('trays')).body).toEqual(own);
  });
});

test('a desk’s line says how far the marking is, at once and whenever it goes on, and nothing of other copies', async () => {
  const h = await handedIn(running);
  const other = await handedIn(running);
  await h.send(put(note(h.documentId, 'before')));
  const stop = new AbortController();
  const response = await h.teacherCaller.raw('GET', `/api/hand-ins/${h.handInId}/live`, {
    signal: stop.signal,
  });
  const heard: number[] = [];
  const reading = (async () => {
    for await (const part of response.body!.pipeThrough(new TextDecoderStream()))
      for (const [, data] of part.matchAll(/^data: (.*)$/gm)) heard.push(JSON.parse(data!).seq);
  })().catch(() => {});
  await expect.poll(() => heard).toEqual([1]);
  await other.send(put(note(other.documentId, 'elsewhere')));
  await h.send(put(note(h.documentId, 'one')), put(note(h.documentId, 'two')));
  await expect.poll(() => heard).toEqual([1, 3]);
  stop.abort();
  await reading;
});
