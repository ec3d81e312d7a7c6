/** What begins like this is counted out by spreadsheets; with a sign before it, it is words. */
const FORMULA = /^[=+\-@\t]/;
const SHIELDED = /^'(?=[=+\-@\t'])/;

/** A cell as it is written to a file for spreadsheets, so that no program takes words for a formula. `unshield` reads it back. */
export const shield = (cell: string): string =>
  FORMULA.test(cell) || SHIELDED.test(cell) ? `'${cell}` : cell;

export const unshield = (cell: string): string => cell.replace(SHIELDED, '');
