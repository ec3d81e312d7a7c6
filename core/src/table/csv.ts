import Papa from 'papaparse';

/** Lines of cells out of text with commas, semicolons or tabs between them, as files and clipboards have it; a mark of the order of bytes is no text. */
export function readCsv(
  text: string,
  mostLines: number,
  /** Between cells; left out: the one that fits best. */
  separator = '',
): { readonly cells: string[][]; readonly more: boolean } {
  const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), {
    delimiter: separator,
    skipEmptyLines: false,
    preview: mostLines + 1,
  });
  return { cells: data.slice(0, mostLines), more: data.length > mostLines };
}

/** The same as a file: commas, CRLF (RFC 4180), UTF-8 with its mark, which spreadsheets need to read accents. */
export const writeCsv = (cells: readonly (readonly string[])[]): string =>
  `\ufeff${Papa.unparse(
    cells.map((line) => [...line]),
    { newline: '\r\n' },
  )}\r\n`;
