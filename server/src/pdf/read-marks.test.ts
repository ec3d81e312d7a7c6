import { execFileSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  type PDFArray,
  type PDFDict,
  type PDFDocument,
  PDFName,
  type PDFRef,
  PDFString,
} from '@cantoo/pdf-lib';
import { type Digest, type DocumentId, type Mark, type PageFrame, type PageText, toPdf } from '@jotmark/core';
import sharp from 'sharp';
import { beforeAll, describe, expect, test } from 'vitest';
import { marksOn } from '../testing/every-kind.ts';
import { type MadeElsewhere, makeElsewhere } from '../testing/made-elsewhere.ts';
import { id } from '../testing/marks.ts';
import { Appending } from './append.ts';
import { nameOf, textOf } from './dict.ts';
import { withDocument } from './engine.ts';
import { flattenMarks } from './flat.ts';
import { readFrames } from './frames.ts';
import { openPdf } from './pdf.ts';
import { type FoundMarks, readMarks } from './read-marks.ts';
import { readPageText } from './text.ts';
import { writeMarks } from './write-marks.ts';

const noBytes = () => null;
const bytesIn = (found: FoundMarks) => (digest: string) => found.bytes.get(digest as Digest) ?? null;

let made: MadeElsewhere;
beforeAll(async () => {
  made = await makeElsewhere(new URL('../../../.test/elsewhere', import.meta.url).pathname);
}, 120_000);

const bytesOf = (file: string) => new Uint8Array(readFileSync(file));
const document = id<DocumentId>();

async function read(
  bytes: Uint8Array,
): Promise<{ frames: PageFrame[]; text: PageText[]; found: FoundMarks }> {
  const pdf = await openPdf(bytes);
  const frames = readFrames(pdf);
  const text = await withDocument(bytes, (engine, opened) =>
    frames.map((f, i) => readPageText(engine, opened, i, f)),
  );
  return { frames, text, found: await readMarks(pdf, frames, text) };
}

const here = (marks: readonly Mark[]) => marks.map((m) => ({ ...m, document }));

/** The file with every kind of mark in it. */
async function marked(name: keyof MadeElsewhere): Promise<{ bytes: Uint8Array; marks: Mark[] }> {
  const bytes = bytesOf(made[name] as string);
  const { frames, text } = await read(bytes);
  const marks = marksOn(frames[0]!, text[0]!).marks.map((m) => ({ ...m, focus: 'method' }));
  const into = await Appending.open(bytes);
  await writeMarks(into, { marks, frames, turns: {}, document, author: 'x', bytes: noBytes });
  return { bytes: await into.save(), marks };
}

/** What another program would do to the file. */
async function changed(bytes: Uint8Array, change: (pdf: PDFDocument, annots: PDFDict[]) => void) {
  const pdf = await openPdf(bytes);
  const list = pdf.getPage(0).node.Annots();
  change(pdf, list ? list.asArray().map((_, i) => list.lookup(i) as PDFDict) : []);
  return pdf.save();
}

const byId = (marks: readonly Mark[]) => new Map(marks.map((m) => [m.id, m]));

describe('marks that come back in', () => {
  test.each(['written', 'turned', 'shifted', 'packed', 'scan'] as const)(
    '%s: what was written out comes in equal, and says which page of which document it was',
    async (name) => {
      const { bytes, marks } = await marked(name);
      const { found } = await read(bytes);
      expect(found.unknown).toEqual([]);
      expect(found.pages[0]).toEqual({ document, page: 0 });
      const back = byId(found.marks);
      for (const mark of marks)
        expect({ ...back.get(mark.id), document: mark.document }, mark.kind).toEqual(mark);
      expect(found.marks).toHaveLength(marks.length);
    },
  );

  test('marks of no size and beside their page are written as sound PDF, and come in again', async () => {
    const { frames } = await read(bytesOf(made.written));
    const base = { v: 2, document, page: 0, colour: 'lake', focus: null, madeAt: 1000 } as const;
    const odd: Mark[] = [
      { ...base, id: id(), kind: 'ink', points: [5000, 5000, 0], width: 0.2 },
      { ...base, id: id(), kind: 'line', from: [50, 50], to: [50, 50], width: 2 },
      { ...base, id: id(), kind: 'arrow', from: [50, 50], to: [50, 50], width: 2 },
      { ...base, id: id(), kind: 'box', box: [90, 90, 90, 90], width: 1 },
      { ...base, id: id(), kind: 'ring', box: [-900, -900, -880, -870], width: 1 },
      {
        ...base,
        id: id(),
        kind: 'stamp',
        x: -500,
        y: 9000,
        size: 20,
        turn: 90,
        look: { of: 'sign', sign: 'tick' },
        points: 50,
      },
      { ...base, id: id(), kind: 'text', x: 9000, y: -50, w: 8, h: 4, size: 4, turn: 0, words: '' },
    ];
    const into = await Appending.open(bytesOf(made.written));
    await writeMarks(into, { marks: odd, frames, turns: {}, document, author: 'x', bytes: noBytes });
    const out = await into.save();
    const file = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'odd.pdf');
    writeFileSync(file, out);
    expect(execFileSync('qpdf', ['--check', file], { encoding: 'utf8' })).toContain('No syntax or stream');
    expect(here((await read(out)).found.marks)).toEqual(odd);
  });

  test('saved anew by another program they still come in equal', async () => {
    const { bytes, marks } = await marked('written');
    const { found } = await read(await changed(bytes, () => {}));
    expect(here(found.marks)).toEqual(here(marks));
  });

  test('a mark that another program moved, recoloured or reworded comes in as it is there, under its own id', async () => {
    const { bytes, marks } = await marked('written');
    const of = (kind: Mark['kind']) => marks.find((m) => m.kind === kind)!;
    const after = await changed(bytes, (pdf, annots) => {
      for (const annot of annots) {
        const name = (annot.lookup(PDFName.of('NM')) as PDFString).decodeText();
        if (name === of('box').id) {
          annot.set(PDFName.of('Rect'), pdf.context.obj([100, 100, 200, 150]));
          annot.set(PDFName.of('C'), pdf.context.obj([0.45, 0.2, 0.5]));
        }
        if (name === of('note').id) annot.set(PDFName.of('Contents'), PDFString.of('Other words'));
      }
    });
    const back = byId((await read(after)).found.marks);
    expect(back.get(of('box').id)).toMatchObject({ kind: 'box', colour: 'plum', width: 5, focus: 'method' });
    expect(back.get(of('note').id)).toMatchObject({ kind: 'note', words: 'Other words' });
    expect({ ...back.get(of('ring').id), document }).toEqual({ ...of('ring'), document });
  });

  test('a note on a turned page that another program reworded is a note still, at its spot', async () => {
    const { bytes, marks } = await marked('turned');
    const was = marks.find((m) => m.kind === 'note' && m.place.on === 'spot') as Mark & { kind: 'note' };
    const other = await changed(bytes, (_, annots) => {
      const note = annots.find((a) => nameOf(a, 'Subtype') === 'Circle' && textOf(a, 'NM') === was.id)!;
      note.set(PDFName.of('Contents'), PDFString.of('Which one?'));
    });
    const now = (await read(other)).found.marks.find((m) => m.id === was.id);
    const { x, y } = was.place as { x: number; y: number };
    expect(now).toMatchObject({ kind: 'note', words: 'Which one?' });
    const place = (now as typeof was).place as { on: string; x: number; y: number };
    expect(place.on).toBe('spot');
    expect(Math.hypot(place.x - x, place.y - y)).toBeLessThan(0.1);
  });

  test('annotations of other programs become marks; what is no mark of ours is named', async () => {
    const { frames, text } = await read(bytesOf(made.written));
    const word = text[0]!.words[1]!.box;
    const [x0, y0] = toPdf(frames[0]!, [word[0], word[3]]);
    const [x1, y1] = toPdf(frames[0]!, [word[2], word[1]]);
    const quads = [x0, y1, x1, y1, x0, y0, x1, y0];
    const bytes = await changed(bytesOf(made.written), (pdf) => {
      const page = pdf.getPage(0);
      const add = (entries: Record<string, unknown>) => {
        const ref = pdf.context.register(pdf.context.obj({ Type: 'Annot', ...entries } as never));
        page.node.addAnnot(ref);
        return ref;
      };
      add({ Subtype: 'Highlight', Rect: [x0, y0, x1, y1], QuadPoints: quads, C: [1, 0.9, 0] });
      const note = add({
        Subtype: 'Highlight',
        Rect: [x0, y0, x1, y1],
        QuadPoints: quads,
        Contents: PDFString.of('Which hill?'),
        Subj: PDFString.of('Highlighter'),
      });
      add({ Subtype: 'Text', Rect: [0, 0, 20, 20], IRT: note, Contents: PDFString.of('The north one.') });
      add({ Subtype: 'Popup', Rect: [0, 0, 90, 90], Parent: note });
      add({ Subtype: 'Ink', Rect: [0, 0, 90, 90], InkList: [[10, 10, 50, 60]], BS: { W: 3 } });
      add({ Subtype: 'Line', Rect: [0, 0, 90, 90], L: [10, 10, 90, 10], LE: ['ClosedArrow', 'None'] });
      add({
        Subtype: 'FreeText',
        Rect: [100, 100, 200, 130],
        DA: PDFString.of('1 0 0 rg /Helv 14 Tf'),
        Contents: PDFString.of('See above'),
        M: PDFString.of("D:20261120101500+01'00'"),
      });
      add({ Subtype: 'Sound', Rect: [0, 0, 9, 9] });
      add({ Subtype: 'Ink', Rect: [0, 0, 9, 9], InkList: 'broken' });
      add({ Subtype: 'Square', Rect: ['x', 'y'] });
      add({ Subtype: 'Line', L: [1, 2] });
      page.node.addAnnot(pdf.context.register(PDFString.of('no dictionary') as never));
    });
    const { found } = await read(bytes);
    expect(found.pages[0]).toBeNull();
    expect(found.marks.map((m) => m.kind)).toEqual(['highlight', 'note', 'ink', 'arrow', 'text']);
    const [highlight, note, ink, arrow, words] = found.marks;
    expect(highlight).toMatchObject({ colour: 'amber', place: { on: 'passage', quote: { exact: 'hill' } } });
    expect(note).toMatchObject({ focus: null, words: 'Which hill?', replies: [{ said: 'The north one.' }] });
    expect(ink).toMatchObject({ width: 3 });
    expect(arrow).toMatchObject({ to: [expect.any(Number), expect.any(Number)] });
    expect((arrow as { to: number[] }).to[0]).toBeLessThan((arrow as { from: number[] }).from[0]!);
    expect(words).toMatchObject({ size: 14, words: 'See above', madeAt: Date.UTC(2026, 10, 20, 9, 15) });
    expect([...found.unknown].sort()).toEqual(['Ink', 'Line', 'Sound', 'Square']);
    // Brought in again they are the same.
    expect((await read(bytes)).found.marks.map((m) => m.id)).toEqual(found.marks.map((m) => m.id));
  });

  test('no annotation is passed over in silence: answers to what is not there, to each other, and more than are read', async () => {
    const bytes = await changed(bytesOf(made.written), (pdf) => {
      const page = pdf.getPage(0);
      const refs: PDFRef[] = [];
      const at = (n: number) => [10 + (n % 50) * 8, 10 + Math.floor(n / 50) * 8];
      const add = (words: string, more: Record<string, unknown> = {}, as = pdf.context.nextRef()) => {
        const [x, y] = at(refs.length);
        const Rect = [x!, y!, x! + 6, y! + 6];
        const entries = { Type: 'Annot', Subtype: 'Text', Rect, Contents: PDFString.of(words), ...more };
        pdf.context.assign(as, pdf.context.obj(entries as never));
        refs.push(as);
        return as;
      };
      const first = add('Look here');
      for (let n = 0; n < 60; n++) add(`Answer ${n}`, { IRT: first });
      add('To nobody', { IRT: pdf.context.nextRef() });
      const [left, right] = [pdf.context.nextRef(), pdf.context.nextRef()];
      add('Left', { IRT: right }, left);
      add('Right', { IRT: left }, right);
      for (let n = 0; n < 5100; n++) add(`Note ${n}`);
      page.node.set(PDFName.of('Annots'), pdf.context.obj(refs));
    });
    const { found } = await read(bytes);
    const words = found.marks.map((m) => ('words' in m ? m.words : ''));
    expect(words.slice(0, 4)).toEqual(['Look here', 'To nobody', 'Left', 'Right']);
    expect(found.marks).toHaveLength(5000);
    expect((found.marks[0] as Mark & { kind: 'note' }).replies).toHaveLength(50);
    expect(found.unread).toBe(10);
    expect(found.unknown).toEqual(Array.from({ length: 104 }, () => 'Text'));
  });

  test('kinds there is no mark for are carried along whole, shown by their picture, and written out as they came', async () => {
    const bytes = await changed(bytesOf(made.written), (pdf) => {
      const page = pdf.getPage(0);
      const add = (entries: Record<string, unknown>) => {
        const ref = pdf.context.register(
          pdf.context.obj({ Type: 'Annot', P: page.ref, ...entries } as never),
        );
        page.node.addAnnot(ref);
        return ref;
      };
      const look = pdf.context.register(
        pdf.context.stream('1 0 0 rg 0 0 60 20 re f', {
          Type: 'XObject',
          Subtype: 'Form',
          BBox: [0, 0, 60, 20],
        }),
      );
      const stamp = add({
        Subtype: 'Stamp',
        Rect: [100, 700, 160, 720],
        NM: PDFString.of('draft-1'),
        Name: 'Draft',
        Contents: PDFString.of('Draft'),
        T: PDFString.of('Ms Loft'),
        AP: { N: look },
        Private: { Deep: [1, 2.5, PDFString.of('kept')] },
        A: { S: 'JavaScript', JS: PDFString.of('app.alert(1)') },
      });
      add({
        Subtype: 'Text',
        Rect: [100, 700, 120, 720],
        IRT: stamp,
        T: PDFString.of('Ms Loft'),
        Contents: PDFString.of('Not yet'),
      });
      add({ Subtype: 'Popup', Rect: [300, 700, 400, 760], Parent: stamp });
      add({
        Subtype: 'Underline',
        Rect: [60, 600, 200, 615],
        QuadPoints: [60, 615, 200, 615, 60, 600, 200, 600],
        C: [0, 0, 1],
      });
      add({ Subtype: 'Polygon', Rect: [300, 300, 400, 400], Vertices: [300, 300, 400, 300, 350, 400] });
      add({ Subtype: 'FileAttachment', Rect: [10, 10, 30, 30] });
      add({ Subtype: 'Movie', Rect: [0, 0, 90, 90] });
    });
    const { frames, found } = await read(bytes);
    expect(found.unknown).toEqual(['Movie']);
    const others = found.marks.filter((m) => m.kind === 'foreign');
    expect(others.map((m) => [m.what, m.said, m.picture !== null])).toEqual([
      ['Stamp', 'Draft', true],
      ['Underline', '', true],
      ['Polygon', '', true],
      ['FileAttachment', '', false],
    ]);
    const { data, info } = await sharp(found.bytes.get(others[0]!.picture!)!)
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([120, 40]);
    const middle = (20 * info.width + 60) * 4;
    expect([...data.subarray(middle, middle + 4)]).toEqual([255, 0, 0, 255]);

    // Onto the clean copy, beside a note with an answer, and read again.
    const note = {
      ...(marksOn(frames[0]!, (await read(bytesOf(made.written))).text[0]!).marks.find(
        (m) => m.kind === 'note',
      ) as Mark & { kind: 'note' }),
      replies: [
        { by: 'Ana', said: 'The north one?', at: Date.UTC(2026, 10, 20, 9, 15) },
        { by: 'Ms Loft', said: 'Yes.', at: Date.UTC(2026, 10, 20, 9, 16) },
      ],
    };
    const into = await Appending.open(bytesOf(made.written));
    await writeMarks(into, {
      marks: [...others, note],
      frames,
      turns: {},
      document,
      author: 'x',
      bytes: bytesIn(found),
    });
    const out = await into.save();
    const again = await read(out);
    expect(again.found.unknown).toEqual([]);
    expect(byId(here(again.found.marks))).toEqual(byId(here([note, ...others])));
    const page = (await openPdf(out)).getPage(0);
    const annots = page.node.Annots()!;
    const dicts = annots.asArray().map((_, i) => annots.lookup(i) as PDFDict);
    expect(dicts.map((d) => String(d.get(PDFName.of('Subtype'))))).toEqual([
      '/Stamp',
      '/Text',
      '/Popup',
      '/Underline',
      '/Polygon',
      '/FileAttachment',
      '/Text',
      '/Text',
      '/Text',
    ]);
    const [stamp, reply, popup] = dicts as [PDFDict, PDFDict, PDFDict];
    expect(String(stamp.get(PDFName.of('Private')))).toContain('2.5');
    // What would run does not come along.
    expect(stamp.has(PDFName.of('A'))).toBe(false);
    expect(stamp.get(PDFName.of('P'))).toBe(page.ref);
    expect(reply.lookup(PDFName.of('IRT'))).toBe(stamp);
    expect(popup.lookup(PDFName.of('Parent'))).toBe(stamp);
    expect(dicts[7]!.lookup(PDFName.of('IRT'))).toBe(dicts[6]);

    // For printing its look is drawn into the page.
    const flat = await openPdf(bytesOf(made.written));
    await flattenMarks(flat, {
      marks: others,
      frames,
      turns: {},
      document,
      author: 'x',
      bytes: bytesIn(found),
    });
    const printed = await openPdf(await flat.save());
    expect(printed.getPage(0).node.Annots()?.size() ?? 0).toBe(0);
    expect(String(printed.getPage(0).node.Resources()!.lookup(PDFName.of('XObject')))).toContain('JTMK0');
  });

  test('what is too much to carry, or leads to the rest of its document, stays in its file', async () => {
    const bytes = await changed(bytesOf(made.written), (pdf) => {
      const page = pdf.getPage(0);
      const add = (entries: Record<string, unknown>) =>
        page.node.addAnnot(pdf.context.register(pdf.context.obj({ Type: 'Annot', ...entries } as never)));
      const big = pdf.context.register(pdf.context.stream(randomBytes(400_000)));
      add({ Subtype: 'FileAttachment', Rect: [10, 10, 30, 30], FS: { EF: { F: big } } });
      add({ Subtype: 'Squiggly', Rect: [60, 60, 90, 80], Dest: [page.ref, 'Fit'] });
      add({ Subtype: 'Squiggly', Rect: [60, 60, 60, 60] });
      // Where there are no words a strike is none of ours; it is seen all the same.
      add({
        Subtype: 'StrikeOut',
        Rect: [400, 60, 500, 80],
        QuadPoints: [400, 80, 500, 80, 400, 60, 500, 60],
        C: [1, 0, 0],
      });
    });
    const { found } = await read(bytes);
    expect(found.unknown).toEqual(['FileAttachment', 'Squiggly']);
    expect(found.marks.map((m) => m.kind === 'foreign' && m.what)).toEqual(['Squiggly', 'StrikeOut']);
    const [mark] = found.marks;
    expect(found.bytes.get((mark as Mark & { kind: 'foreign' }).pdf)!.length).toBeLessThan(2000);
  });

  test('a stamp that another program moved or pulled larger lies there; words said to a mark without words stand beside it', async () => {
    const { bytes, marks } = await marked('written');
    const stamp = marks.find((m) => m.kind === 'stamp')!;
    const ring = marks.find((m) => m.kind === 'ring')!;
    const after = await changed(bytes, (pdf, annots) => {
      for (const annot of annots) {
        const name = (annot.lookup(PDFName.of('NM')) as PDFString).decodeText();
        if (name === stamp.id) {
          const [l, b, r, t] = (annot.lookup(PDFName.of('Rect')) as PDFArray)
            .asArray()
            .map((n) => Number(String(n)));
          annot.set(PDFName.of('Rect'), pdf.context.obj([l! + 10, b! - 20, r! + 10, t! - 20]));
        }
        if (name !== ring.id) continue;
        const ref = pdf.context.getObjectRef(annot)!;
        const answer = {
          Type: 'Annot',
          Subtype: 'Text',
          Rect: [0, 0, 9, 9],
          IRT: ref,
          T: PDFString.of('Ana'),
          Contents: PDFString.of('Why this?'),
        };
        pdf.getPage(0).node.addAnnot(pdf.context.register(pdf.context.obj(answer as never)));
      }
    });
    const { found } = await read(after);
    const now = byId(found.marks).get(stamp.id) as typeof stamp & { x: number; y: number };
    const was = stamp as typeof now;
    expect(now).toMatchObject({
      ...was,
      document: now.document,
      x: expect.closeTo(was.x + 10, 1),
      y: expect.closeTo(was.y + 20, 1),
    });
    expect(found.marks).toHaveLength(marks.length + 1);
    expect(found.marks.find((m) => m.kind === 'note' && m.words === 'Ana: Why this?')).toBeDefined();
    // Twice is once.
    expect((await read(after)).found.marks.map((m) => m.id)).toEqual(found.marks.map((m) => m.id));
  });
});
