import { PDFDocument, PDFName, PDFString, StandardFonts } from '@cantoo/pdf-lib';

/** Small PDFs for tests of limits; the e2e stories use files that other programs made. */
export async function plainPdf(
  lines: readonly string[] = ['The hill is steep on the north side'],
  pages = 1,
): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  const font = await pdf.embedFont(StandardFonts.Helvetica);
  for (let n = 0; n < pages; n++) {
    const page = pdf.addPage([595, 842]);
    lines.forEach((line, i) => page.drawText(line, { x: 72, y: 770 - i * 20, size: 12, font }));
  }
  return pdf.save();
}

export async function pdfWithPage(width: number, height: number): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  pdf.addPage([width, height]);
  return pdf.save();
}

/** A document that would run scripts: when it opens, by name, on a page and behind an annotation. */
export async function scriptedPdf(): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  const page = pdf.addPage([595, 842]);
  const script = pdf.context.obj({ S: 'JavaScript', JS: PDFString.of('app.alert(1)') });
  pdf.catalog.set(PDFName.of('OpenAction'), script);
  pdf.catalog.set(PDFName.of('AA'), pdf.context.obj({ WC: script }));
  pdf.catalog.set(
    PDFName.of('Names'),
    pdf.context.obj({ JavaScript: { Names: [PDFString.of('x'), script] } }),
  );
  page.node.set(PDFName.of('AA'), pdf.context.obj({ O: script }));
  const annotation = pdf.context.obj({ Type: 'Annot', Subtype: 'Link', Rect: [10, 10, 50, 50], A: script });
  const link = pdf.context.obj({
    Type: 'Annot',
    Subtype: 'Link',
    Rect: [60, 10, 90, 50],
    A: { S: 'URI', URI: PDFString.of('https://maps.example') },
  });
  page.node.set(PDFName.of('Annots'), pdf.context.obj([annotation, link]));
  return pdf.save();
}

/** A page with so many bytes in it that cannot be made smaller. */
export async function heavyPdf(bytes: number): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  const page = pdf.addPage([595, 842]);
  const noise = new Uint8Array(bytes).map((_, i) => (i * 7919 + (i >> 5) * 104_729) & 255);
  page.node.set(PDFName.of('PieceInfo'), pdf.context.register(pdf.context.stream(noise)));
  return pdf.save();
}
