import { execFileSync } from 'node:child_process';

/** Zips as another program reads and writes them. */
const python = (code: string, ...args: string[]): Buffer =>
  execFileSync('python3', ['-c', code, ...args], { maxBuffer: 200_000_000 });

export const namesIn = (zip: string): string[] =>
  python('import sys,zipfile; print("\\n".join(zipfile.ZipFile(sys.argv[1]).namelist()))', zip)
    .toString('utf8')
    .trim()
    .split('\n')
    .sort();

export const partOfZip = (zip: string, part: string): Buffer =>
  python(
    'import sys,zipfile; sys.stdout.buffer.write(zipfile.ZipFile(sys.argv[1]).read(sys.argv[2]))',
    zip,
    part,
  );

/** Writes the same zip with one of its parts in another form. */
export function changedZip(from: string, to: string, part: string, bytes: string): void {
  python(
    `import sys,zipfile
a=zipfile.ZipFile(sys.argv[1]); b=zipfile.ZipFile(sys.argv[2],'w')
for n in a.namelist(): b.writestr(n, sys.argv[4].encode() if n==sys.argv[3] else a.read(n))
b.close()`,
    from,
    to,
    part,
    bytes,
  );
}
