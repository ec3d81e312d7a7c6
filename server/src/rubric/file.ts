import { type Rubric, type SheetKind, writeCsv, writeGrid } from '@jotmark/core';
import { sheetFile } from '../sheets/sheet-file.ts';

/** A rubric as a spreadsheet that its own reader, and every spreadsheet, reads. */
export function rubricFile(rubric: Pick<Rubric, 'criteria'>, name: string, kind: SheetKind): Promise<Buffer> {
  // As it was written, so that its own reader gets back the same.
  if (kind === 'csv') return Promise.resolve(Buffer.from(writeCsv(writeGrid(rubric, name)), 'utf8'));
  const [head = [], ...rows] = writeGrid(rubric, name);
  return sheetFile([{ name: 'Rubric', head, rows }], kind);
}
