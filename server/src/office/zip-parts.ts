import { buffer } from 'node:stream/consumers';
import { promisify } from 'node:util';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import { Fault } from '../fault.ts';

/** A table for a rubric unpacks to far less. */
const MOST_UNPACKED = 60 * 1024 * 1024;
/** And its content, which is held as a tree. */
const MOST_TEXT = 8 * 1024 * 1024;
const MOST_ENTRIES = 2000;

const openZip = promisify<string, yauzl.Options, ZipFile>(yauzl.open);

export interface ZipParts {
  readonly names: ReadonlySet<string>;
  /** Whether its contents are locked with a password. */
  readonly encrypted: boolean;
  /** One of its parts as text; null: there is none of that name. Throws `no-table` when it is too large. */
  text(part: string): Promise<string | null>;
  /** Unpacks all of it once, holding nothing: throws `no-table` where a part is larger than the directory says, before a library that believes it unpacks it. */
  checkSizes(): Promise<void>;
  close(): void;
}

/** What a zipped document holds. Its directory is read first: what would unpack to far too much throws `file-bomb` before anything is. */
export async function readParts(path: string, name: string): Promise<ZipParts> {
  const entries = new Map<string, Entry>();
  const zip = await openZip(path, { lazyEntries: true, autoClose: false }).catch(() => {
    throw new Fault('no-table', { name, why: 'broken' });
  });
  let unpacked = 0;
  let encrypted = false;
  const broken = () => new Fault('no-table', { name, why: 'broken' });
  await new Promise<void>((resolve, reject) => {
    zip.on('entry', (entry: Entry) => {
      unpacked += entry.uncompressedSize;
      encrypted ||= (entry.generalPurposeBitFlag & 1) === 1;
      if (unpacked > MOST_UNPACKED || entries.size > MOST_ENTRIES)
        return reject(new Fault('file-bomb', { name }));
      entries.set(entry.fileName, entry);
      zip.readEntry();
    });
    zip.once('end', resolve);
    zip.once('error', () => reject(broken()));
    zip.readEntry();
  }).catch((error: Error) => {
    zip.close();
    throw error;
  });
  const open = promisify(
    zip.openReadStream.bind(zip) as (
      e: Entry,
      done: (error: Error | null, s: NodeJS.ReadableStream) => void,
    ) => void,
  );
  const text = async (part: string): Promise<string | null> => {
    const entry = entries.get(part);
    if (!entry) return null;
    if (entry.uncompressedSize > MOST_TEXT) throw new Fault('no-table', { name, why: 'too-big' });
    return (await buffer(await open(entry))).toString('utf8');
  };
  const checkSizes = async (): Promise<void> => {
    for (const entry of entries.values())
      try {
        for await (const _ of await open(entry));
      } catch {
        throw broken();
      }
  };
  // OpenDocument locks its parts one by one and says so in its manifest.
  const manifest = encrypted ? null : await text('META-INF/manifest.xml').catch(() => null);
  return {
    names: new Set(entries.keys()),
    encrypted: encrypted || (manifest?.includes('encryption-data') ?? false),
    text,
    checkSizes,
    close: () => zip.close(),
  };
}
