import { createWriteStream } from 'node:fs';
import { readFile, rename, writeFile } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { ZipArchive } from 'archiver';
import yauzl, { type Entry, type ZipFile } from 'yauzl';

/** Parts of a zipped document that can name something outside of it. Larger ones name so much that nobody wrote them by hand. */
const NAMES_OUTSIDE = /\.rels$|^(content|styles|settings|meta)\.xml$|\/(content|styles)\.xml$/;
const MOST_PART = 40 * 1024 * 1024;

/** In office documents since 2007: what a part refers to outside. A link to follow fetches nothing by itself. */
const cutRelations = (xml: string): string =>
  xml.replace(/<(?:\w+:)?Relationship\b[^>]*>/g, (tag) =>
    /TargetMode\s*=\s*["']External["']/i.test(tag) && !/relationships\/hyperlink["']/i.test(tag)
      ? tag.replace(/\bTarget\s*=\s*("[^"]*"|'[^']*')/, 'Target="gone"')
      : tag,
  );

/** In OpenDocument: pictures, objects and templates that lie elsewhere. */
const cutHrefs = (xml: string): string =>
  xml.replace(/<(?!text:a\b|draw:a\b)[\w:-]+\b[^>]*>/g, (tag) =>
    tag.replace(
      /\bxlink:href\s*=\s*("\s*(?:[a-z][a-z0-9+.-]+:|\/\/|\\\\)[^"]*"|'\s*(?:[a-z][a-z0-9+.-]+:|\/\/|\\\\)[^']*')/gi,
      'xlink:href=""',
    ),
  );

/** In rich text: fields that include what lies elsewhere. */
const cutFields = (rtf: string): string =>
  rtf
    .replace(/\b(INCLUDEPICTURE|INCLUDETEXT|IMPORT|LINK|DDEAUTO|DDE)\b(?=\s)/g, 'QUOTE')
    .replace(/\\\*\\template\b/g, '\\*\\gone');

const openZip = promisify<string, yauzl.Options, ZipFile>(yauzl.open);

/**
 * Takes out of a document what would be fetched from elsewhere when it is opened: the second wall, behind a process without network. What a reader can
 * follow by a click stays. A document that cannot be taken apart stays as it is.
 */
export async function cutOutside(path: string, type: string): Promise<void> {
  if (type === 'application/rtf') {
    const rtf = await readFile(path, 'latin1');
    const cut = cutFields(rtf);
    if (cut !== rtf) await writeFile(path, cut, 'latin1');
    return;
  }
  if (!/opendocument|openxmlformats/.test(type)) return;
  const cut = `${path}.cut`;
  const named = await copyCut(path, cut).catch(() => false);
  if (named) await rename(cut, path);
}

/** Writes the document anew without what it names outside; false: it names nothing. */
async function copyCut(from: string, to: string): Promise<boolean> {
  const zip = await openZip(from, { lazyEntries: true, autoClose: false });
  try {
    const entries = await entriesOf(zip);
    const changed = new Map<string, string>();
    for (const entry of entries) {
      if (!NAMES_OUTSIDE.test(entry.fileName) || entry.uncompressedSize > MOST_PART) continue;
      const xml = (await bytesOf(zip, entry)).toString('utf8');
      const cut = entry.fileName.endsWith('.rels') ? cutRelations(xml) : cutHrefs(xml);
      if (cut !== xml) changed.set(entry.fileName, cut);
    }
    if (changed.size === 0) return false;
    const out = new ZipArchive({ zlib: { level: 1 } });
    const written = pipeline(out, createWriteStream(to));
    for (const entry of entries) {
      if (entry.fileName.endsWith('/')) continue;
      // The type of an OpenDocument file stands first and is not packed (ODF 1.3, part 2, 3.3).
      const store = entry.fileName === 'mimetype';
      out.append(changed.get(entry.fileName) ?? (await bytesOf(zip, entry)), { name: entry.fileName, store });
    }
    await out.finalize();
    await written;
    return true;
  } finally {
    zip.close();
  }
}

function entriesOf(zip: ZipFile): Promise<Entry[]> {
  const entries: Entry[] = [];
  return new Promise((resolve, reject) => {
    zip.on('entry', (entry: Entry) => {
      entries.push(entry);
      zip.readEntry();
    });
    zip.once('end', () => resolve(entries));
    zip.once('error', reject);
    zip.readEntry();
  });
}

async function bytesOf(zip: ZipFile, entry: Entry): Promise<Buffer> {
  const open = promisify(
    zip.openReadStream.bind(zip) as (
      e: Entry,
      done: (error: Error | null, s: NodeJS.ReadableStream) => void,
    ) => void,
  );
  const chunks: Buffer[] = [];
  for await (const chunk of await open(entry)) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks);
}
