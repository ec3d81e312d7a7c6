import { buffer } from 'node:stream/consumers';
import { type Rubric, writeCsv, writeGrid } from '@jotmark/core';
import { ZipArchive } from 'archiver';
import ExcelJS from 'exceljs';

export type RubricFileKind = 'csv' | 'xlsx' | 'ods';

export const RUBRIC_TYPES: Readonly<Record<RubricFileKind, string>> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  ods: 'application/vnd.oasis.opendocument.spreadsheet',
};

/** A rubric as a spreadsheet that its own reader, and every spreadsheet, reads. */
export async function rubricFile(
  rubric: Pick<Rubric, 'criteria'>,
  name: string,
  kind: RubricFileKind,
): Promise<Buffer> {
  const cells = writeGrid(rubric, name);
  switch (kind) {
    case 'csv':
      return Buffer.from(writeCsv(cells), 'utf8');
    case 'xlsx':
      return asXlsx(cells);
    case 'ods':
      return asOds(cells);
  }
}

async function asXlsx(cells: readonly (readonly string[])[]): Promise<Buffer> {
  const book = new ExcelJS.Workbook();
  const sheet = book.addWorksheet('Rubric');
  for (const line of cells) sheet.addRow([...line]);
  sheet.columns.forEach((c, i) => {
    c.width = i === 1 ? 10 : 28;
    c.alignment = { wrapText: true, vertical: 'top' };
  });
  return Buffer.from(await book.xlsx.writeBuffer());
}

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
// XML has no place for control characters.
const printable = (text: string): string =>
  [...text].filter((c) => c >= ' ' || c === '\n' || c === '\t').join('');

const ODS = 'application/vnd.oasis.opendocument.spreadsheet';
const NS =
  'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"';

async function asOds(cells: readonly (readonly string[])[]): Promise<Buffer> {
  const paragraphs = (text: string) =>
    printable(text)
      .split('\n')
      .map((line) => `<text:p>${escaped(line)}</text:p>`)
      .join('');
  const rows = cells
    .map(
      (line) =>
        `<table:table-row>${line
          .map((c) => `<table:table-cell office:value-type="string">${paragraphs(c)}</table:table-cell>`)
          .join('')}</table:table-row>`,
    )
    .join('');
  const content = `<?xml version="1.0" encoding="UTF-8"?><office:document-content ${NS} office:version="1.2"><office:body><office:spreadsheet><table:table table:name="Rubric">${rows}</table:table></office:spreadsheet></office:body></office:document-content>`;
  const manifest = `<?xml version="1.0" encoding="UTF-8"?><manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.2"><manifest:file-entry manifest:full-path="/" manifest:media-type="${ODS}"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>`;
  const zip = new ZipArchive({ zlib: { level: 6 } });
  // Its first part says what it is, and lies there as it is (OpenDocument 1.2, part 3).
  zip.append(ODS, { name: 'mimetype', store: true } as Parameters<ZipArchive['append']>[1]);
  zip.append(manifest, { name: 'META-INF/manifest.xml' });
  zip.append(content, { name: 'content.xml' });
  const whole = buffer(zip);
  await zip.finalize();
  return whole;
}
