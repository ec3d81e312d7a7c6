import { buffer } from 'node:stream/consumers';
import { promisify } from 'node:util';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import { Fault } from '../fault.ts';

/** A document that unpacks to more than this is made to choke whoever opens it. */
const MOST_UNPACKED = 400 * 1024 * 1024;
const MOST_ENTRIES = 10_000;

const openZip = promisify<string, yauzl.Options, ZipFile>(yauzl.open);

export interface ZipLook {
  readonly names: ReadonlySet<string>;
  /** What the entry `mimetype` says, as OpenDocument has it; empty without one. */
  readonly mimetype: string;
}

/** The list of a zip's contents, without unpacking it; null when it is no readable zip. Throws `file-bomb`. */
export async function lookIntoZip(path: string, name: string): Promise<ZipLook | null> {
  const zip = await openZip(path, { lazyEntries: true, autoClose: false }).catch(() => null);
  if (!zip) return null;
  try {
    return await readEntries(zip, name);
  } catch (error) {
    if (error instanceof Fault) throw error;
    return null;
  } finally {
    zip.close();
  }
}

async function readEntries(zip: ZipFile, name: string): Promise<ZipLook> {
  const names = new Set<string>();
  let mimetype = '';
  let unpacked = 0;
  for await (const entry of entriesOf(zip)) {
    names.add(entry.fileName);
    unpacked += entry.uncompressedSize;
    if (unpacked > MOST_UNPACKED || names.size > MOST_ENTRIES) throw new Fault('file-bomb', { name });
    if (entry.fileName === 'mimetype' && entry.uncompressedSize < 200) mimetype = await readEntry(zip, entry);
  }
  return { names, mimetype };
}

async function* entriesOf(zip: ZipFile): AsyncGenerator<Entry> {
  for (;;) {
    const entry = await new Promise<Entry | null>((resolve, reject) => {
      const done = (value: Entry | null) => {
        zip.removeAllListeners();
        resolve(value);
      };
      zip.once('entry', done);
      zip.once('end', () => done(null));
      zip.once('error', reject);
      zip.readEntry();
    });
    if (!entry) return;
    yield entry;
  }
}

async function readEntry(zip: ZipFile, entry: Entry): Promise<string> {
  const stream = await promisify(
    zip.openReadStream.bind(zip) as (
      e: Entry,
      done: (error: Error | null, s: NodeJS.ReadableStream) => void,
    ) => void,
  )(entry);
  return (await buffer(stream)).toString('latin1').trim();
}
