/** A cell of a table that goes out: words, a number, or nothing. */
export type GridCell = string | number | null;

/** A table that goes out as a sheet: its first line names the columns. */
export interface OutGrid {
  /** What the sheet is called. */
  readonly name: string;
  readonly head: readonly string[];
  readonly rows: readonly (readonly GridCell[])[];
}

/** Hundredths as a number that a spreadsheet adds up; null stays nothing. */
export const asNumber = (hundredths: number | null): number | null =>
  hundredths === null ? null : hundredths / 100;

/** Letters by which a spreadsheet takes words for a formula. */
const FORMULA = /^[=+\-@\t\r]/;

/** Words of a CSV cell: what somebody was called must not be computed, so a mark of text stands before it, as spreadsheets themselves write it. */
export const plainCell = (cell: GridCell): string =>
  cell === null ? '' : typeof cell === 'number' ? String(cell) : FORMULA.test(cell) ? `'${cell}` : cell;

/** The table as lines of words, its head first. */
export const gridLines = (grid: OutGrid): string[][] => [
  [...grid.head],
  ...grid.rows.map((row) => row.map(plainCell)),
];
