import { buffer } from 'node:stream/consumers';
import { type GridCell, gridLines, type OutGrid, type SheetKind, writeCsv } from '@jotmark/core';
import { ZipArchive } from 'archiver';

export const SHEET_TYPES: Readonly<Record<SheetKind, string>> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  ods: 'application/vnd.oasis.opendocument.spreadsheet',
};

/** Tables as a file that every spreadsheet reads: CSV holds one, the first. Numbers are numbers, words are never formulas. */
export async function sheetFile(grids: readonly OutGrid[], kind: SheetKind): Promise<Buffer> {
  switch (kind) {
    case 'csv':
      return Buffer.from(writeCsv(gridLines(grids[0]!)), 'utf8');
    case 'xlsx':
      return asXlsx(grids);
    case 'ods':
      return asOds(grids);
  }
}

/** Column widths in letters: as wide as what is in it, within reason. */
function widths({ head, rows }: OutGrid): number[] {
  return head.map((title, i) => {
    const longest = rows
      .slice(0, 200)
      .reduce((n, row) => Math.max(n, String(row[i] ?? '').length), title.length);
    return Math.min(48, Math.max(8, longest + 2));
  });
}

async function asXlsx(grids: readonly OutGrid[]): Promise<Buffer> {
  // Heavy: loaded when it is wanted.
  const { default: ExcelJS } = await import('exceljs');
  const book = new ExcelJS.Workbook();
  for (const grid of grids) {
    const sheet = book.addWorksheet(sheetName(grid.name), {
      views: [{ state: 'frozen', ySplit: 1, xSplit: 1 }],
    });
    sheet.addRow(grid.head.map(printable));
    for (const row of grid.rows) sheet.addRow(row.map((c) => (typeof c === 'string' ? printable(c) : c)));
    const wide = widths(grid);
    sheet.columns.forEach((c, i) => {
      c.width = wide[i] ?? 12;
      c.alignment = { wrapText: true, vertical: 'top' };
    });
    sheet.getRow(1).font = { bold: true };
  }
  return Buffer.from(await book.xlsx.writeBuffer());
}

/** Sheets have at most 31 letters, and some none may have (ECMA-376). */
const sheetName = (name: string): string => name.replace(/[\\/?*[\]:']/g, ' ').slice(0, 31) || 'Sheet';

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
// XML has no place for control characters.
const printable = (text: string): string =>
  [...text].filter((c) => c >= ' ' || c === '\n' || c === '\t').join('');

const ODS = SHEET_TYPES.ods;
const NS =
  'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"';

function odsCell(cell: GridCell): string {
  if (cell === null) return '<table:table-cell/>';
  if (typeof cell === 'number')
    return `<table:table-cell office:value-type="float" office:value="${cell}"><text:p>${cell}</text:p></table:table-cell>`;
  const paragraphs = printable(cell)
    .split('\n')
    .map((line) => `<text:p>${escaped(line)}</text:p>`)
    .join('');
  return `<table:table-cell office:value-type="string">${paragraphs}</table:table-cell>`;
}

async function asOds(grids: readonly OutGrid[]): Promise<Buffer> {
  const tables = grids
    .map(({ name, head, rows }) => {
      const lines = [head, ...rows]
        .map((row) => `<table:table-row>${row.map(odsCell).join('')}</table:table-row>`)
        .join('');
      return `<table:table table:name="${escaped(sheetName(name))}">${lines}</table:table>`;
    })
    .join('');
  const content = `<?xml version="1.0" encoding="UTF-8"?><office:document-content ${NS} office:version="1.2"><office:body><office:spreadsheet>${tables}</office:spreadsheet></office:body></office:document-content>`;
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
