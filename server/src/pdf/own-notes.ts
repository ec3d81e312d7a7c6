import { type PDFPage, rgb } from '@cantoo/pdf-lib';
import { type OwnNote, type PageFrame, toPdf } from '@jotmark/core';
import type { Fonts } from './fonts.ts';
import { TYPED, writeText } from './write-text.ts';

const RADIUS = 6.5;
const SIZE = 9;

/** What a student noted on their own copy: each has a number where it is about, and its words stand behind all pages. */
export class OwnNotes {
  readonly all: OwnNote[] = [];
  readonly #fonts: Fonts;

  constructor(fonts: Fonts) {
    this.#fonts = fonts;
  }

  /** Draws the next number at x, y of a page, which is the `index`th of the document. */
  add(page: PDFPage, frame: PageFrame, index: number, x: number, y: number, words: string): void {
    this.all.push({ page: index, x, y, words });
    const number = String(this.all.length);
    const [cx, cy] = toPdf(frame, [x, y]);
    page.drawCircle({ x: cx, y: cy, size: RADIUS / frame.userUnit, color: TYPED });
    const pen = { fonts: this.#fonts, colour: rgb(1, 1, 1) };
    writeText(page, frame, pen, number, x - this.#fonts.width(number, SIZE) / 2, y + SIZE * 0.34, SIZE);
  }
}
