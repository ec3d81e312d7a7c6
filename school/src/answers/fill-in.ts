import { rgb } from '@cantoo/pdf-lib';
import type { Chance } from '../chance.ts';
import { handOf, type Stroke, write } from '../handwriting/write.ts';
import { PAGE, Paper } from '../worksheet/paper.ts';
import type { Worksheet } from '../worksheet/worksheets.ts';
import { type Answer, answerOf } from './answers.ts';

const PENS = [rgb(0.1, 0.16, 0.38), rgb(0.12, 0.12, 0.14), rgb(0.16, 0.22, 0.5)];

export interface FilledIn {
  readonly bytes: Uint8Array;
  readonly answers: ReadonlyMap<string, Answer>;
  readonly typed: boolean;
}

/** One student's worksheet, filled in by hand or typed, as the PDF they would hand in. */
export async function fillIn(
  chance: Chance,
  sheet: Worksheet,
  name: string,
  strength: number,
  /** With a keyboard; left out: some do. */
  typed = chance.yes(0.4),
): Promise<FilledIn> {
  const paper = await Paper.of(sheet.bytes);
  const pages = paper.pdf.getPages();
  const hand = handOf(chance);
  const ink = chance.pick(PENS);
  const draw = (page: number, strokes: readonly Stroke[]) => {
    const width = 0.9 + hand.size * 0.04;
    const d = strokes
      .map((s) => s.map(([x, y], i) => `${i ? 'L' : 'M'}${x.toFixed(2)} ${y.toFixed(2)}`).join(''))
      .join('');
    pages[page]!.drawSvgPath(d, {
      x: 0,
      y: PAGE.height,
      borderColor: ink,
      borderWidth: width,
      borderLineCap: 1,
    });
  };
  const put = (page: number, text: string, x: number, y: number, width: number, leading: number) => {
    if (typed) paper.paragraph(pages[page]!, text, x, y, width, 11.5, leading, ink);
    else draw(page, write(chance, hand, text, x, y, width, leading).strokes);
  };
  pages.forEach((_, i) => put(i, name, sheet.name.x, sheet.name.y, 200, 14));
  const answers = new Map<string, Answer>();
  for (const place of sheet.places) {
    const answer = answerOf(chance, sheet.title, place.question, strength);
    answers.set(place.question, answer);
    if (answer.text) put(place.page, answer.text, place.x, place.y, place.width, place.leading);
  }
  return { bytes: await paper.pdf.save(), answers, typed };
}
