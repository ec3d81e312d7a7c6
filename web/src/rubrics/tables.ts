import { type GridShape, readCsv } from '@jotmark/core';

/** What was found in a file or the clipboard. */
export interface Tables {
  readonly from: string;
  readonly tables: readonly GridShape[];
}

/** So many lines of what is pasted are looked at. */
const MOST_LINES = 400;

/** A table out of the clipboard; null: what lies there is no table. */
export function pastedTable(text: string): GridShape | null {
  if (!/[\t\n]/.test(text.trim())) return null;
  const { cells } = readCsv(text, MOST_LINES);
  return cells.length > 1 && cells.some((l) => l.length > 1) ? { name: '', cells, special: [] } : null;
}
