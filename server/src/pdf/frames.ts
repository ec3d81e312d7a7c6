import type { PDFDocument } from '@cantoo/pdf-lib';
import { PDFName, PDFNumber } from '@cantoo/pdf-lib';
import { type PageFrame, quarterTurn } from '@jotmark/core';

/** How every page lies: CropBox within MediaBox, Rotate, UserUnit, all with what they inherit. */
export function readFrames(pdf: PDFDocument): PageFrame[] {
  return pdf.getPages().map((page) => {
    const media = rectangle(page.getMediaBox());
    const crop = rectangle(page.getCropBox());
    const cut: PageFrame['crop'] = [
      Math.max(media[0], crop[0]),
      Math.max(media[1], crop[1]),
      Math.min(media[2], crop[2]),
      Math.min(media[3], crop[3]),
    ];
    const unit = page.node.lookup(PDFName.of('UserUnit'));
    return {
      crop: cut[2] - cut[0] > 0 && cut[3] - cut[1] > 0 ? cut : media,
      rotate: quarterTurn(page.getRotation().angle),
      userUnit: unit instanceof PDFNumber && unit.asNumber() > 0 ? unit.asNumber() : 1,
    };
  });
}

function rectangle(b: { x: number; y: number; width: number; height: number }): PageFrame['crop'] {
  return [
    Math.min(b.x, b.x + b.width),
    Math.min(b.y, b.y + b.height),
    Math.max(b.x, b.x + b.width),
    Math.max(b.y, b.y + b.height),
  ];
}
