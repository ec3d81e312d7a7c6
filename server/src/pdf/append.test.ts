import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFName, PDFString } from '@cantoo/pdf-lib';
import { describe, expect, test } from 'vitest';
import { plainPdf } from '../testing/pdfs.ts';
import { Appending } from './append.ts';
import { openPdf } from './pdf.ts';

/** Says something in an annotation of the first page, and gives the file. */
async function annotated(bytes: Uint8Array): Promise<Uint8Array> {
  const into = await Appending.open(bytes);
  const page = into.pdf.getPage(0);
  const { context } = into.pdf;
  const note = context.obj({
    Type: 'Annot',
    Subtype: 'Text',
    Rect: [10, 10, 20, 20],
    Contents: PDFString.of('here'),
  });
  page.node.addAnnot(context.register(note));
  into.changed(page.ref);
  return into.save();
}

function checked(bytes: Uint8Array): string {
  const file = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'out.pdf');
  writeFileSync(file, bytes);
  return execFileSync('qpdf', ['--check', file], { encoding: 'utf8' });
}

const notesIn = async (bytes: Uint8Array) =>
  (await openPdf(bytes)).getPage(0).node.Annots()?.lookup(0)?.toString() ?? '';

const withStreams = () => plainPdf();
const withTable = async () => (await openPdf(await plainPdf())).save({ useObjectStreams: false });

describe('appending', () => {
  test.each([
    ['cross-reference streams', withStreams],
    ['a cross-reference table', withTable],
  ])('to a file with %s keeps its bytes, again and again', async (_, make) => {
    const first = await make();
    const second = await annotated(first);
    const third = await annotated(second);
    expect(Buffer.from(second.subarray(0, first.length)).equals(first)).toBe(true);
    expect(Buffer.from(third.subarray(0, second.length)).equals(second)).toBe(true);
    for (const bytes of [second, third]) {
      expect(checked(bytes)).toContain('No syntax or stream encoding errors');
      expect(await notesIn(bytes)).toContain('(here)');
    }
    const annots = (await openPdf(third)).getPage(0).node.get(PDFName.of('Annots'));
    expect(String(annots).match(/\d+ 0 R/g)).toHaveLength(2);
  });

  test.each([
    [
      'junk behind its end',
      async () => Buffer.concat([await withTable(), Buffer.from('\n<!-- served by a page -->')]),
    ],
    ['junk before its header', async () => Buffer.concat([Buffer.from('HTTP rest\n'), await withTable()])],
  ])('to a file with %s is not possible: it is written anew, whole', async (_, make) => {
    const out = await annotated(new Uint8Array(await make()));
    expect(checked(out)).toContain('No syntax or stream encoding errors');
    expect(await notesIn(out)).toContain('(here)');
  });
});
