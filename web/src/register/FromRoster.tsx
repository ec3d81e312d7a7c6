import { type FoundClass, type RosterTrouble, readOneRoster, writeCsv } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { plural } from '../time/words.ts';

const TROUBLE: Readonly<Record<RosterTrouble['what'], (t: RosterTrouble) => string>> = {
  'missing-file': (t) => `${t.of} is missing, so what stands in it is not known.`,
  'unknown-user': (t) => `${t.file} names a person (${t.of}) who is not in users.csv; left out.`,
  'unknown-class': (t) => `${t.file} names a class (${t.of}) that is not in classes.csv; left out.`,
  double: (t) => `${t.of} stands twice in ${t.file}; the first counts.`,
  'no-name': (t) => `${t.of} has no given name; left out.`,
  version: (t) =>
    `The files say they are OneRoster ${t.of || 'of no version'}; 1.1 and 1.2 are known. What could be read was read.`,
  delta: () => 'users.csv holds only what changed since another file: people may be missing.',
  'too-long': (t) => `${t.file} has more than ${t.of} lines; what comes after them was not read.`,
};
/** No export of a school is larger. */
const MOST_BYTES = 40 * 1024 ** 2;

type Found = ReturnType<typeof readOneRoster>;

/** Classes out of a register's exchange files: which there are, what does not fit; one of them is made here, and its names are looked over in its register. */
export function FromRoster() {
  const tell = useTell();
  const navigate = useNavigate();
  const file = useRef<HTMLInputElement>(null);
  const [found, setFound] = useState<Found | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const read = async (files: readonly File[]) => {
    setTrouble(null);
    setFound(null);
    try {
      const texts = await textsIn(files);
      const told = readOneRoster(texts);
      setFound(told);
      if (told.classes.length === 0) setTrouble('There is no class in these files. Nothing was changed.');
    } catch (error) {
      setTrouble(
        error instanceof TooBig
          ? 'These files are larger than any school’s. Nothing was changed. Are they the right ones?'
          : 'These files could not be read. Nothing was changed. A OneRoster export is a zip, or the CSV files that lie in it.',
      );
    }
  };
  const make = useMutation({
    mutationFn: (c: FoundClass) => call('addClass', { body: { name: c.title.slice(0, 60), unit: '' } }),
    onSuccess: ({ id }, c) => {
      tell('classAdded', {});
      const names = writeCsv([
        ['given', 'family', 'login'],
        ...c.students.map((s) => [s.given, s.family, s.login]),
      ]).replace(/^\ufeff/, '');
      navigate(`/classes/${id}/register`, { state: { names } });
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  return (
    <section aria-label="From OneRoster files" className="mt-6 rounded-lg bg-raised p-5 shadow-sm">
      <h2 className="font-bold">A class from your school’s register</h2>
      <p className="text-sm text-soft">
        OneRoster 1.1 or 1.2: the zip as it comes, or its CSV files. You see what is in it before anything is
        made.
      </p>
      <FileInput at={file} label="OneRoster files" accept=".zip,.csv" multiple onFiles={read} />
      <button type="button" className="quiet mt-2" onClick={() => file.current?.click()}>
        Choose files
      </button>
      {trouble && (
        <p role="alert" className="mt-2 text-caution">
          {trouble}
        </p>
      )}
      {found && found.troubles.length > 0 && (
        <details className="mt-2 text-sm">
          <summary className="cursor-pointer text-caution">
            {plural(found.troubles.length, 'thing does not fit', 'things do not fit')}
          </summary>
          <ul className="mt-1 max-h-40 overflow-auto">
            {found.troubles.slice(0, 200).map((t) => (
              <li key={`${t.what} ${t.file} ${t.of}`}>{TROUBLE[t.what](t)}</li>
            ))}
          </ul>
        </details>
      )}
      {found && found.classes.length > 0 && (
        <ul className="mt-3 divide-y divide-line">
          {found.classes.map((c, i) => (
            <li key={`${c.title} ${i}`} className="flex items-center gap-3 py-1.5">
              <b>{c.title}</b>
              <span className="flex-1 text-soft">{plural(c.students.length, 'student', 'students')}</span>
              <button
                type="button"
                className="quiet !min-h-8 !py-1"
                disabled={make.isPending}
                onClick={() => make.mutate(c)}
              >
                Make {c.title}
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

class TooBig extends Error {}

/** The CSV files that were chosen, or that lie in a zip, by their bare names. */
async function textsIn(files: readonly File[]): Promise<Map<string, string>> {
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
