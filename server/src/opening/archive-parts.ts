import type { Readable } from 'node:stream';
import { promisify } from 'node:util';
import yauzl, { type Entry, type ZipFile } from 'yauzl';

/** The parts of a zip that may be large: each is read as a stream, and what a part really holds is bounded by what its reader takes. */
export interface ArchiveParts {
  readonly names: ReadonlySet<string>;
  /** Throws where there is none of that name. */
  read(name: string): Promise<Readable>;
  close(): void;
}

const MOST_ENTRIES = 500_000;
const openZip = promisify<string, yauzl.Options, ZipFile>(yauzl.open);

/** Opens a zip by its directory, which stands at its end: one that was cut off has none, and throws. */
export async function openArchive(path: string): Promise<ArchiveParts> {
  const zip = await openZip(path, { lazyEntries: true, autoClose: false });
  const entries = new Map<string, Entry>();
  await new Promise<void>((resolve, reject) => {
    zip.on('entry', (entry: Entry) => {
      if (entries.size > MOST_ENTRIES) return reject(new Error('too many parts'));
      entries.set(entry.fileName, entry);
      zip.readEntry();
    });
    zip.once('end', resolve);
    zip.once('error', reject);
    zip.readEntry();
  });
  const open = promisify(
    zip.openReadStream.bind(zip) as (e: Entry, done: (error: Error | null, s: Readable) => void) => void,
  );
  return {
    names: new Set(entries.keys()),
    read: async (name) => {
      const entry = entries.get(name);
      if (!entry) throw new Error(`no ${name}`);
      return open(entry);
    },
    close: () => zip.close(),
  };
}
