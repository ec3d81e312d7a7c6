import { readFileSync } from 'node:fs';
import { type PDFDict, type PDFDocument, PDFName, PDFString } from '@cantoo/pdf-lib';
import { type DocumentId, type Mark, type PageFrame, type PageText, toPdf } from '@jotmark/core';
import { beforeAll, describe, expect, test } from 'vitest';
import { marksOn } from '../testing/every-kind.ts';
import { type MadeElsewhere, makeElsewhere } from '../testing/made-elsewhere.ts';
import { id } from '../testing/marks.ts';
import { Appending } from './append.ts';
import { withDocument } from './engine.ts';
import { readFrames } from './frames.ts';
import { openPdf } from './pdf.ts';
import { type FoundMarks, readMarks } from './read-marks.ts';
import { readPageText } from './text.ts';
import { writeMarks } from './write-marks.ts';

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
  return { frames, text, found: readMarks(pdf, frames, text) };
}

const here = (marks: readonly Mark[]) => marks.map((m) => ({ ...m, document }));

/** The file with every kind of mark in it. */
async function marked(name: keyof MadeElsewhere): Promise<{ bytes: Uint8Array; marks: Mark[] }> {
  const bytes = bytesOf(made[name] as string);
  const { frames, text } = await read(bytes);
  const marks = marksOn(frames[0]!, text[0]!).marks.map((m) => ({ ...m, focus: 'method' }));
  const into = await Appending.open(bytes);
  await writeMarks(into, { marks, frames, turns: {}, document, author: 'x' });
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
    expect(note).toMatchObject({ focus: null, words: 'Which hill?\nThe north one.' });
    expect(ink).toMatchObject({ width: 3 });
    expect(arrow).toMatchObject({ to: [expect.any(Number), expect.any(Number)] });
    expect((arrow as { to: number[] }).to[0]).toBeLessThan((arrow as { from: number[] }).from[0]!);
    expect(words).toMatchObject({ size: 14, words: 'See above', madeAt: Date.UTC(2026, 10, 20, 9, 15) });
    expect([...found.unknown].sort()).toEqual(['Ink', 'Line', 'Sound', 'Square']);
    // Brought in again they are the same.
    expect((await read(bytes)).found.marks.map((m) => m.id)).toEqual(found.marks.map((m) => m.id));
  });
});
