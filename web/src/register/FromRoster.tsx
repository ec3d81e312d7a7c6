import { type FoundClass, readOneRoster, writeCsv } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { ROSTER_TROUBLE, rosterTexts, TooBig } from '../frame/roster-files.ts';
import { toast } from '../frame/toast.ts';
import { plural } from '../time/words.ts';

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
      const texts = await rosterTexts(files);
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
              <li key={`${t.what} ${t.file} ${t.of}`}>{ROSTER_TROUBLE[t.what](t)}</li>
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
                Make class {c.title}
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
