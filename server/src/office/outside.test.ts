import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type MadeOffice, makeOffice } from '../testing/made-office.ts';
import { officeIn } from '../testing/office.ts';
import { changedZip, partOfZip } from '../testing/zips.ts';
import { cutOutside } from './outside.ts';

const folder = mkdtempSync(join(tmpdir(), 'jotmark-outside-'));
const convert = officeIn(folder);
const asked: string[] = [];
const elsewhere = createServer((req, res) => {
  asked.push(req.url!);
  res.writeHead(404).end();
});
let address: string;
let made: MadeOffice;
beforeAll(async () => {
  made = await makeOffice(new URL('../../../.test/office', import.meta.url).pathname);
  await new Promise<void>((resolve) => elsewhere.listen(0, '127.0.0.1', resolve));
  address = `http://127.0.0.1:${(elsewhere.address() as AddressInfo).port}`;
}, 60_000);
afterAll(() => {
  elsewhere.close();
  rmSync(folder, { recursive: true, force: true });
});

const OOXML = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';
const at = (name: string) => join(folder, name);

/** What is fetched when LibreOffice, with the network that this machine has, turns it into pages. */
async function fetched(name: string): Promise<string[]> {
  asked.length = 0;
  await convert(name, 'pdf');
  return [...new Set(asked)];
}

/** A text document whose picture lies elsewhere, and with a link to follow. */
function odt(name: string): void {
  const xml = partOfZip(made.odt, 'content.xml').toString('utf8');
  const more = `<text:p>Seen <text:a xlink:type="simple" xlink:href="${address}/follow">here</text:a><draw:frame svg:width="2cm" svg:height="2cm"><draw:image xlink:href="${address}/odt.png" xlink:type="simple" xlink:show="embed" xlink:actuate="onLoad"/></draw:frame></text:p>`;
  changedZip(made.odt, at(name), 'content.xml', xml.replace('</office:text>', `${more}</office:text>`));
}

/** One whose template and picture lie elsewhere. */
function docx(name: string): void {
  const rels = partOfZip(made.docx, 'word/_rels/document.xml.rels').toString('utf8');
  const type = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  changedZip(
    made.docx,
    at(name),
    'word/_rels/document.xml.rels',
    rels.replace(
      '</Relationships>',
      `<Relationship Id="out1" Type="${type}/image" Target="${address}/docx.png" TargetMode="External"/>
       <Relationship Id="out2" Type="${type}/hyperlink" Target="${address}/follow" TargetMode="External"/></Relationships>`,
    ),
  );
  copyFileSync(at(name), at(`once-${name}`));
  const xml = partOfZip(made.docx, 'word/document.xml').toString('utf8');
  const drawing = 'http://schemas.openxmlformats.org/drawingml/2006';
  const shown = `<w:p><w:r><w:drawing><wp:inline xmlns:wp="${drawing}/wordprocessingDrawing"><wp:extent cx="914400" cy="914400"/><wp:docPr id="9" name="p"/>
    <a:graphic xmlns:a="${drawing}/main"><a:graphicData uri="${drawing}/picture"><pic:pic xmlns:pic="${drawing}/picture"><pic:nvPicPr><pic:cNvPr id="9" name="p"/><pic:cNvPicPr/></pic:nvPicPr>
    <pic:blipFill><a:blip xmlns:r="${type}" r:link="out1"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill>
    <pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="914400" cy="914400"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing></w:r></w:p>`;
  changedZip(
    at(`once-${name}`),
    at(name),
    'word/document.xml',
    xml.replace(/(<w:sectPr|<\/w:body>)/, `${shown}$1`),
  );
}

describe('what a document names elsewhere', () => {
  test('is fetched by LibreOffice when nobody cuts it out: so there is something to cut', async () => {
    odt('open.odt');
    expect(await fetched('open.odt')).toContain('/odt.png');
    docx('open.docx');
    expect(await fetched('open.docx')).toContain('/docx.png');
  }, 120_000);

  test('is cut out of both kinds; what a reader follows by a click stays, and so do the words', async () => {
    odt('cut.odt');
    await cutOutside(at('cut.odt'), 'application/vnd.oasis.opendocument.text');
    expect(await fetched('cut.odt')).toEqual([]);
    expect(partOfZip(at('cut.odt'), 'content.xml').toString('utf8')).toContain(`${address}/follow`);
    docx('cut.docx');
    await cutOutside(at('cut.docx'), OOXML);
    expect(await fetched('cut.docx')).toEqual([]);
    const rels = partOfZip(at('cut.docx'), 'word/_rels/document.xml.rels').toString('utf8');
    expect(rels).toContain(`${address}/follow`);
    expect(rels).not.toContain('docx.png');
  }, 120_000);

  test('of rich text, whose fields would include it', async () => {
    const rtf = String.raw`{\rtf1 {\*\template http://127.0.0.1/a.dot}{\field{\*\fldinst { INCLUDEPICTURE "${address}/rtf.png" \\d }}{\fldrslt }} Words {\field{\*\fldinst { HYPERLINK "${address}/follow" }}{\fldrslt here}}}`;
    writeFileSync(at('a.rtf'), rtf, 'latin1');
    await cutOutside(at('a.rtf'), 'application/rtf');
    const cut = readFileSync(at('a.rtf'), 'latin1');
    expect(cut).not.toMatch(/INCLUDEPICTURE|\\template/);
    expect(cut).toContain('HYPERLINK');
    expect(await fetched('a.rtf')).toEqual([]);
  }, 60_000);

  test('a document that names nothing stays byte for byte', async () => {
    const before = readFileSync(made.docx);
    copyFileSync(made.docx, at('same.docx'));
    await cutOutside(at('same.docx'), OOXML);
    expect(readFileSync(at('same.docx')).equals(before)).toBe(true);
  });
});
