import { readFile } from 'node:fs/promises';
import { type GridShape, readCsv } from '@jotmark/core';
import type { Cell } from 'exceljs';
import { Fault } from '../fault.ts';
import { tablesInDocx, tablesInOdf } from './xml-tables.ts';
import { readParts } from './zip-parts.ts';

/** No rubric is larger, and nothing else is read here. */
export const MOST_LINES = 400;
export const MOST_COLUMNS = 400;
const MOST_TABLES = 20;
const MOST_LETTERS = 5000;

export const noTable = (
  name: string,
  why: 'password' | 'too-big' | 'none' | 'broken' | 'old' | 'kind',
): Fault => new Fault('no-table', { name, why });

/**
 * The tables of a spreadsheet (CSV, XLSX, ODS) or a text document (DOCX, ODT), told by its content. Throws `no-table` with why: it has a password, is too large,
 * holds none, is broken, or no such file; and `file-bomb`. Formulas give what they came to; nothing is computed here.
 */
export async function readTables(path: string, name: string): Promise<GridShape[]> {
  const bytes = await readFile(path);
  const tables = (await tablesIn(bytes, path, name)).filter((t) =>
    t.cells.some((l) => l.some((c) => c.trim())),
  );
  if (tables.length === 0) throw noTable(name, 'none');
  for (const { cells } of tables)
    if (cells.length > MOST_LINES || cells.some((l) => l.length > MOST_COLUMNS))
      throw noTable(name, 'too-big');
  return tables.slice(0, MOST_TABLES).map((t) => ({
    ...t,
    cells: t.cells.map((l) => l.map((c) => c.slice(0, MOST_LETTERS))),
  }));
}

async function tablesIn(bytes: Buffer, path: string, name: string): Promise<GridShape[]> {
  const head = bytes.subarray(0, 8).toString('latin1');
  if (head.startsWith('\xd0\xcf\x11\xe0'))
    throw noTable(name, bytes.includes(Buffer.from('EncryptedPackage', 'utf16le')) ? 'password' : 'old');
  if (!head.startsWith('PK\x03\x04')) return csvIn(bytes, name);
  const parts = await readParts(path, name);
  try {
    if (parts.encrypted) throw noTable(name, 'password');
    if (parts.names.has('xl/workbook.xml')) {
      await parts.checkSizes();
      return await sheetsIn(bytes, name);
    }
    const document = await parts.text('word/document.xml');
    if (document !== null) return tablesInDocx(document);
    const content = await parts.text('content.xml');
    if (content !== null) return tablesInOdf(content);
  } catch (error) {
    throw error instanceof Fault ? error : noTable(name, 'broken');
  } finally {
    parts.close();
  }
  throw noTable(name, 'kind');
}

function csvIn(bytes: Buffer, name: string): GridShape[] {
  const text = decoded(bytes);
  if (text.includes('\0')) throw noTable(name, 'kind');
  const { cells, more } = readCsv(text, MOST_LINES);
  if (more) throw noTable(name, 'too-big');
  return [{ name: '', cells, special: [] }];
}

/** UTF-8 where it is; else UTF-16 where it says so, else the one of old Windows. */
function decoded(bytes: Buffer): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

async function sheetsIn(bytes: Buffer, name: string): Promise<GridShape[]> {
  // Heavy, and the process that loads it opens far more files that are no spreadsheets.
  const { default: ExcelJS } = await import('exceljs');
  const book = new ExcelJS.Workbook();
  await book.xlsx.load(bytes as unknown as ArrayBuffer);
  return book.worksheets.map((sheet) => {
    if (sheet.actualRowCount > MOST_LINES || sheet.actualColumnCount > MOST_COLUMNS)
      throw noTable(name, 'too-big');
    const cells: string[][] = [];
    const special: GridShape['special'] = [];
    sheet.eachRow({ includeEmpty: false }, (line, n) => {
      if (n > MOST_LINES * 4) throw noTable(name, 'too-big');
      while (cells.length < n) cells.push([]);
      const own = cells[n - 1]!;
      line.eachCell({ includeEmpty: false }, (cell, c) => {
        if (c > MOST_COLUMNS) throw noTable(name, 'too-big');
        while (own.length < c) own.push('');
        const at = { column: c - 1, row: n - 1 };
        if (cell.isMerged && cell.master !== cell) return;
        if (cell.isMerged) special.push({ ...at, is: 'merged' });
        if (cell.type === ExcelJS.ValueType.Formula) special.push({ ...at, is: 'formula' });
        own[c - 1] = textOf(cell);
      });
    });
    return { name: sheet.name, cells, special };
  });
}

function textOf(cell: Cell): string {
  try {
    return cell.text ?? '';
  } catch {
    // The library has no text for some values it reads, an empty rich text say.
    return '';
  }
}
