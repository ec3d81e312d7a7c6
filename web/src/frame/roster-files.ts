import type { RosterTrouble } from '@jotmark/core';

/** What does not fit in a register's exchange files, in sentences. */
export const ROSTER_TROUBLE: Readonly<Record<RosterTrouble['what'], (t: RosterTrouble) => string>> = {
  'missing-file': (t) => `${t.of} is missing, so what stands in it is not known.`,
  'unknown-user': (t) => `${t.file} names a person (${t.of}) who is not in users.csv; left out.`,
  'unknown-class': (t) => `${t.file} names a class (${t.of}) that is not in classes.csv; left out.`,
  double: (t) => `${t.of} stands twice in ${t.file}; the first counts.`,
  'no-name': (t) => `${t.of} has no given name; left out.`,
  version: (t) =>
    `The files say they are OneRoster ${t.of || 'of no version'}; 1.1 and 1.2 are known. What could be read was read.`,
  delta: () => 'users.csv holds only what changed since another file: people may be missing.',
  'bad-number': (t) => `“${t.of}” in ${t.file} is no number that a grade could be; left out.`,
  'too-long': (t) => `${t.file} has more than ${t.of} lines; what comes after them was not read.`,
};

/** No export of a school is larger. */
const MOST_BYTES = 40 * 1024 ** 2;

/** More than any school's. */
export class TooBig extends Error {}

/** The CSV files that were chosen, or that lie in a zip, by their bare names. */
export async function rosterTexts(files: readonly File[]): Promise<Map<string, string>> {
  if (files.reduce((n, f) => n + f.size, 0) > MOST_BYTES) throw new TooBig();
  const out = new Map<string, string>();
  for (const f of files) {
    if (!/\.zip$/i.test(f.name)) {
      out.set(f.name, await f.text());
      continue;
    }
    const { unzip } = await import('fflate');
    const bytes = new Uint8Array(await f.arrayBuffer());
    let whole = 0;
    const parts = await new Promise<Record<string, Uint8Array>>((resolve, reject) =>
      unzip(
        bytes,
        {
          // What says it is larger than any school's is not unpacked.
          filter: (part) => {
            whole += part.originalSize;
            return /\.csv$/i.test(part.name) && whole <= MOST_BYTES;
          },
        },
        (error, all) => (error ? reject(error) : resolve(all)),
      ),
    );
    if (whole > MOST_BYTES) throw new TooBig();
    for (const [name, part] of Object.entries(parts))
      out.set(name.split('/').at(-1)!, new TextDecoder().decode(part));
  }
  return out;
}
