import { existsSync } from 'node:fs';
import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { officeIn } from './office.ts';

/** Rubrics as teachers have them in spreadsheets, made by LibreOffice out of what LibreOffice reads. */
export interface MadeSheets {
  /** Criteria down, levels across, points in the heads, weights in a column of their own. */
  readonly ods: string;
  /** Criteria across, levels down; points in a line of their own with a decimal comma; a formula. */
  readonly xlsx: string;
  /** Points in the cells, semicolons between them. */
  readonly csv: string;
  /** A table in a text. */
  readonly docx: string;
  readonly odt: string;
}

const table = (
  name: string,
  lines: readonly (readonly (string | number | { formula: string })[])[],
): string =>
  `<table:table table:name="${name}">${lines
    .map(
      (line) =>
        `<table:table-row>${line
          .map((cell) =>
            typeof cell === 'number'
              ? `<table:table-cell office:value-type="float" office:value="${cell}"/>`
              : typeof cell === 'object'
                ? `<table:table-cell table:formula="of:${cell.formula}"/>`
                : `<table:table-cell office:value-type="string"><text:p>${cell}</text:p></table:table-cell>`,
          )
          .join('')}</table:table-row>`,
    )
    .join('')}</table:table>`;

const flat = (tables: string): string => `<?xml version="1.0" encoding="UTF-8"?>
<office:document xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:of="urn:oasis:names:tc:opendocument:xmlns:of:1.2" office:version="1.2" office:mimetype="application/vnd.oasis.opendocument.spreadsheet"><office:body><office:spreadsheet>${tables}</office:spreadsheet></office:body></office:document>`;

const DOWN = flat(
  table('Walk', [
    ['Telling a walk'],
    ['Criterion', 'Weight', 'Can well (3)', 'Can (2)', 'Begins (1)'],
    ['Describes the way', 3, 'One walks along', 'One can follow', 'A list of places'],
    ['Reads the map', 1.5, 'Lines carry the story', 'Uses lines once', 'No map'],
  ]),
);
const ACROSS = flat(
  table('Notes', [['not a rubric']]) +
    table('Rubric', [
      ['', 'Points', 'Describes', 'Measures'],
      ['Begins', '0,5', 'A list', 'No numbers'],
      ['Can', { formula: '=1+1' }, 'One can follow', 'Numbers'],
      ['Can well', 3, 'One walks along', 'Numbers and how'],
    ]),
);
const CELLS = flat(
  table('R', [
    ['Skill', 'Level 1', 'Level 2', 'Level 3'],
    ['Speaks freely', '1: Reads aloud', '2: Looks up', '3: Speaks to us'],
    ['Keeps time', '0: Far off', '1: Nearly', '2: On time'],
  ]),
);
const TEXT = `<html><head><meta charset="utf-8"></head><body><p>For the walk on Friday:</p><table border="1">
<tr><td>Criterion</td><td>Begins (1)</td><td>Can (2)</td></tr>
<tr><td>Describes</td><td>A list</td><td>One can follow</td></tr>
<tr><td>Measures</td><td>No numbers</td><td>Numbers</td></tr></table></body></html>`;

/** Makes the files once into `folder` and gives their paths. */
export async function makeSheets(folder: string): Promise<MadeSheets> {
  const at = (name: string) => join(folder, name);
  const made: MadeSheets = {
    ods: at('walk rubric.ods'),
    xlsx: at('across.xlsx'),
    csv: at('talk.csv'),
    docx: at('table.docx'),
    odt: at('table.odt'),
  };
  if (Object.values(made).every((path) => existsSync(path))) return made;
  await rm(folder, { recursive: true, force: true });
  await mkdir(folder, { recursive: true });
  const office = officeIn(folder);
  await writeFile(at('walk rubric.fods'), DOWN);
  await office('walk rubric.fods', 'ods:calc8');
  await writeFile(at('across.fods'), ACROSS);
  await office('across.fods', 'xlsx:Calc MS Excel 2007 XML');
  await writeFile(at('talk.fods'), CELLS);
  await office('talk.fods', 'csv:Text - txt - csv (StarCalc):59,34,76');
  await writeFile(at('table.html'), TEXT);
  await office('table.html', 'docx:MS Word 2007 XML');
  await office('table.docx', 'odt:writer8');
  return made;
}
