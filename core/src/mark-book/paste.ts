/** What a spreadsheet puts on the clipboard: rows of cells, with tabs between; a last empty row is none. */
export function pastedCells(text: string): string[][] {
  const rows = text.replace(/\r\n?/g, '\n').replace(/\n$/, '').split('\n');
  return rows.map((row) => row.split('\t').map((cell) => cell.trim()));
}
