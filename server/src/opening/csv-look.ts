import { readCsv } from '@jotmark/core';

/** LibreOffice's names of what letters are stored as. */
const CHARSET = { utf8: '76', windows1252: '1' } as const;

/** So much of a file is looked at to tell what it is. */
export const HEAD_BYTES = 4096;
/** As many lines are looked at. */
const LOOKED_AT = 60;

/**
 * Whether a text is a table with a separator between its cells, told by its first bytes: lines that all have the same number of cells, two at least.
 * Gives LibreOffice's filter for it; null: it is prose. Formulas in it stay what they are, text: nothing is computed.
 */
export function csvFilter(head: Buffer): string | null {
  const [text, charset] = decoded(head);
  // Of a longer file the last line is cut by the buffer's end.
  const whole = head.length < HEAD_BYTES ? text : text.slice(0, text.lastIndexOf('\n') + 1);
  for (const separator of ['\t', ';', ',']) {
    const { cells } = readCsv(whole, LOOKED_AT, separator);
    const lines = cells.filter((l) => l.some((c) => c.trim()));
    const wide = lines[0]?.length ?? 0;
    if (lines.length < 2 || wide < 2 || lines.some((l) => l.length !== wide)) continue;
    // In prose a space follows a comma; in a table none does.
    if (separator === ',' && whole.split(', ').length > whole.split(',').length / 2) continue;
    const importing = [
      separator.charCodeAt(0),
      34,
      CHARSET[charset],
      1,
      '',
      0,
      'false',
      'true',
      'false',
      'false',
      'false',
      0,
      'false',
    ];
    return `Text - txt - csv (StarCalc):${importing.join(',')}`;
  }
  return null;
}

function decoded(head: Buffer): [text: string, charset: keyof typeof CHARSET] {
  try {
    return [new TextDecoder('utf-8', { fatal: true }).decode(head, { stream: true }), 'utf8'];
  } catch {
    return [new TextDecoder('windows-1252').decode(head), 'windows1252'];
  }
}
