import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { officeIn } from './office.ts';

const run = promisify(execFile);

/** The words that every file with text has on its first page. */
export const SENTENCE = 'The hill is steep on the north side';
const LINES = [
  SENTENCE,
  'and on the other side the lines are far apart',
  'so the way from the south is easy',
];

/** Real PDFs that this project's code did not make. `scan` has no text; `turned` and `shifted` have odd pages. */
export interface MadeElsewhere {
  /** LibreOffice from a document, two pages. */
  readonly written: string;
  /** Chromium's print of a page. */
  readonly printed: string;
  /** cairo, through librsvg. */
  readonly drawn: string;
  /** Ghostscript, with a page that does not start at 0,0. */
  readonly shifted: string;
  /** `written`, each page turned by 90 degrees with qpdf. */
  readonly turned: string;
  /** `printed` with object streams, by qpdf. */
  readonly packed: string;
  /** A picture of `written` wrapped as a scan, by cairo. */
  readonly scan: string;
}

const FILES: readonly (keyof MadeElsewhere)[] = [
  'written',
  'printed',
  'drawn',
  'shifted',
  'turned',
  'packed',
  'scan',
];

/** Makes the files once into `folder` and gives their paths. */
export async function makeElsewhere(folder: string): Promise<MadeElsewhere> {
  const made = Object.fromEntries(
    FILES.map((name) => [name, join(folder, `${name}.pdf`)]),
  ) as unknown as MadeElsewhere;
  if (FILES.every((name) => existsSync(made[name]))) return made;
  const at = (name: string) => join(folder, name);
  await rm(folder, { recursive: true, force: true });
  await mkdir(folder, { recursive: true });

  await writeFile(at('written.fodt'), flatDocument());
  await officeIn(folder)('written.fodt', 'pdf');

  await writeFile(
    at('printed.html'),
    `<meta charset="utf-8"><h1>Map work</h1>${LINES.map((l) => `<p style="font-size:16px">${l}</p>`).join('')}`,
  );
  await run('chromium', [
    '--headless',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    `--user-data-dir=${at('chromium')}`,
    '--no-pdf-header-footer',
    `--print-to-pdf=${at('printed.part')}`,
    `file://${at('printed.html')}`,
  ]);
  await rename(at('printed.part'), made.printed);

  const text = LINES.map(
    (l, i) => `<text x="72" y="${120 + i * 24}" font-size="14" font-family="Liberation Sans">${l}</text>`,
  ).join('');
  await writeFile(
    at('drawn.svg'),
    svg(`<circle cx="300" cy="500" r="90" fill="none" stroke="#864"/>${text}`),
  );
  await run('rsvg-convert', ['--format=pdf', '--dpi-x=72', '--dpi-y=72', '-o', made.drawn, at('drawn.svg')]);

  const shown = LINES.map((l, i) => `90 ${640 - i * 22} moveto (${l}) show`).join('\n');
  await writeFile(
    at('shifted.ps'),
    `%!PS\n[/CropBox [40 110 520 730] /PAGE pdfmark\n/Helvetica findfont 13 scalefont setfont\n${shown}\nshowpage\n`,
  );
  await run('gs', [
    '-q',
    '-dNOPAUSE',
    '-dBATCH',
    '-dSAFER',
    '-sDEVICE=pdfwrite',
    '-dDEVICEWIDTHPOINTS=595',
    '-dDEVICEHEIGHTPOINTS=842',
    `-sOutputFile=${made.shifted}`,
    at('shifted.ps'),
  ]);

  await run('qpdf', ['--rotate=+90', made.written, made.turned]);
  await run('qpdf', ['--object-streams=generate', '--compress-streams=y', made.printed, made.packed]);

  await run('pdftoppm', ['-r', '100', '-png', '-singlefile', made.written, at('photo')]);
  const png = (await readFile(at('photo.png'))).toString('base64');
  await writeFile(
    at('scan.svg'),
    svg(`<image width="595" height="842" href="data:image/png;base64,${png}"/>`),
  );
  await run('rsvg-convert', [
    '--format=pdf',
    '--dpi-x=72',
    '--dpi-y=72',
    '--unlimited',
    '-o',
    made.scan,
    at('scan.svg'),
  ]);
  return made;
}

const svg = (body: string) =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="595" height="842" viewBox="0 0 595 842">${body}</svg>`;

/** A document as LibreOffice keeps it in one XML file, with a page break. */
function flatDocument(): string {
  const paragraph = (l: string, style = 'Standard') => `<text:p text:style-name="${style}">${l}</text:p>`;
  return `<?xml version="1.0" encoding="UTF-8"?>
<office:document xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"
 xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0"
 office:version="1.3" office:mimetype="application/vnd.oasis.opendocument.text">
<office:automatic-styles><style:style style:name="P2" style:family="paragraph" style:parent-style-name="Standard"><style:paragraph-properties fo:break-before="page"/></style:style></office:automatic-styles>
<office:body><office:text>${LINES.map((l) => paragraph(l)).join('')}${paragraph('Page two: the bearing is 056 degrees', 'P2')}</office:text></office:body></office:document>`;
}

export { type MadeOffice, makeOffice } from './made-office.ts';
