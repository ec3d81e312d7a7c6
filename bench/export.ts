import { PDFDocument, PDFName, PDFString, StandardFonts } from '@cantoo/pdf-lib';
import type { DocumentId, Mark, MarkId } from '@jotmark/core';
import { Appending, openPdf, readFrames, writeMarks } from '@jotmark/server';
import { type Figure, inTurn, timed } from './figures.ts';
import { id, stroke } from './school.ts';

/** Exporting 8 pages with 150 marks, against pdf-lib loading and saving that file with as many bare annotation dictionaries. */
export async function exportFigures(): Promise<Figure[]> {
  const bytes = await eightPages();
  const frames = readFrames(await openPdf(bytes));
  const document = id<DocumentId>();
  const marks = Array.from({ length: 150 }, (_, i) => markOf(document, i));
  const ours = () =>
    timed(async () => {
      const into = await Appending.open(bytes);
      await writeMarks(into, { marks, frames, turns: {}, document, author: 'Bench', bytes: () => null });
      await into.save();
    });
  const bare = () =>
    timed(async () => {
      const pdf = await openPdf(bytes);
      const pages = pdf.getPages();
      marks.forEach((m) => {
        const page = pages[m.page]!;
        const dict = pdf.context.obj({
          Type: 'Annot',
          Subtype: 'Square',
          Rect: [10, 10, 20, 20],
          NM: PDFString.of(m.id),
          F: 4,
        });
        page.node.addAnnot(pdf.context.register(dict));
      });
      await pdf.save({ objectsPerTick: Number.POSITIVE_INFINITY });
    });
  await ours();
  await bare();
  const [a, b, ratio] = await inTurn(15, ours, bare);
  return [
    {
      what: 'exporting 8 pages with 150 marks',
      ours: a,
      baseline: b,
      ratio,
      against: 'pdf-lib, bare dictionaries',
      limit: 1.5,
    },
  ];
}

function markOf(document: DocumentId, i: number): Mark {
  const page = i % 8;
  const base = {
    v: 2 as const,
    id: id<MarkId>(),
    document,
    page,
    colour: 'lake' as const,
    focus: 'wording',
    madeAt: 1,
  };
  if (i % 3 === 0) return { ...(stroke(document, i) as Extract<Mark, { kind: 'ink' }>), page };
  if (i % 3 === 1)
    return {
      ...base,
      kind: 'highlight',
      place: {
        on: 'passage',
        bands: [[72, 100 + i, 300, 112 + i]],
        quote: { exact: 'words', prefix: '', suffix: '', start: 0, end: 5 },
      },
    };
  return {
    ...base,
    kind: 'note',
    words: `Look again at line ${i}`,
    place: { on: 'spot', x: 300, y: 100 + i },
  };
}

/** A file as a word processor would make it: text with a font, two pictures' worth of bytes. */
async function eightPages(): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  const font = await pdf.embedFont(StandardFonts.TimesRoman);
  for (let n = 0; n < 8; n++) {
    const page = pdf.addPage([595, 842]);
    for (let i = 0; i < 40; i++)
      page.drawText(
        `Page ${n + 1}, line ${i + 1}: the hill is steep on the north side and flat on the other`,
        { x: 60, y: 790 - i * 18, size: 11, font },
      );
    page.node.set(
      PDFName.of('PieceInfo'),
      pdf.context.register(pdf.context.stream(new Uint8Array(60_000).map((_, i) => (i * 7919 + n) & 255))),
    );
  }
  return pdf.save();
}
