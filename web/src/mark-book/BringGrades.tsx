import { type ClassId, type FoundWork, type MarkBook, momentAt, readOneRoster } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { FileInput } from '../frame/FileInput.tsx';
import { ROSTER_TROUBLE, rosterTexts } from '../frame/roster-files.ts';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { plural } from '../time/words.ts';
import type { Student } from './CellField.tsx';

type Found = ReturnType<typeof readOneRoster>;

/** Pieces of work that are sent in one go. */
const BITE = 20;

const named = (p: { given: string; family: string }): string =>
  `${p.given} ${p.family}`.trim().normalize('NFC').toLocaleLowerCase();

/** Whose a grade is: the one student of this name; null: none is, or several are. */
function whoIs(students: readonly Student[], person: FoundWork['grades'][number]): Student | null {
  const there = students.filter((s) => named(s) === named(person));
  return there.length === 1 ? there[0]! : null;
}

/** Grades out of a register's exchange files: what is in them, whose they are here, and what is not known. Nothing is entered before it was looked over. */
export function BringGrades({ classId, book }: { classId: ClassId; book: MarkBook }) {
  const { session } = useHere();
  const tell = useTell();
  const file = useRef<HTMLInputElement>(null);
  const [found, setFound] = useState<Found | null>(null);
  const [chosen, setChosen] = useState(0);
  const works = found?.classes[chosen]?.works ?? [];
  const grades = works.flatMap((w) => w.grades);
  const known = grades.filter((g) => whoIs(book.students, g)).length;
  const unknown = [
    ...new Set(grades.filter((g) => !whoIs(book.students, g)).map((g) => `${g.given} ${g.family}`.trim())),
  ];
  const read = async (files: readonly File[]) => {
    try {
      const told = readOneRoster(await rosterTexts(files));
      const withWork = told.classes.filter((c) => c.works.length > 0);
      if (withWork.length === 0)
        return void toast.error('There are no grades in these files. Nothing was changed.');
      setChosen(
        Math.max(
          0,
          withWork.findIndex((c) => c.title === book.className),
        ),
      );
      setFound({ ...told, classes: withWork });
    } catch {
      toast.error(
        'These files could not be read. Nothing was changed. A OneRoster export is a zip, or the CSV files in it.',
      );
    }
  };
  const bring = useMutation({
    mutationFn: async () => {
      const sum = { works: 0, grades: 0, kept: 0 };
      for (let i = 0; i < works.length; i += BITE) {
        const told = await call('bringGrades', {
          params: { classId },
          body: {
            works: works.slice(i, i + BITE).map((w) => ({
              title: w.title.slice(0, 200),
              category: w.category.slice(0, 60),
              most: w.most,
              dueAt: w.due ? momentAt(`${w.due}T12:00`, session.school.timeZone) : null,
              grades: w.grades.flatMap((g) => {
                const student = whoIs(book.students, g);
                return student ? [{ personId: student.id, grade: Math.min(g.grade, w.most) }] : [];
              }),
            })),
          },
        });
        sum.works += told.works;
        sum.grades += told.grades;
        sum.kept += told.kept;
      }
      return sum;
    },
    onSuccess: (sum) => {
      setFound(null);
      toast.success(
        `${plural(sum.grades, 'grade', 'grades')} entered, not handed back. ${sum.works ? `${plural(sum.works, 'piece of work was', 'pieces of work were')} made for them. ` : ''}${sum.kept ? `${sum.kept} stood here already and stay.` : ''}`,
        { duration: 10_000 },
      );
    },
    // What went in before it failed stays; brought in once more nothing is entered twice.
    onError: (error) => void toast.error(sentenceOf(error)),
    onSettled: () => tell('bookChanged', { classId }),
  });
  return (
    <>
      <button type="button" className="quiet" onClick={() => file.current?.click()}>
        Bring in grades …
      </button>
      <FileInput at={file} label="OneRoster files with grades" accept=".zip,.csv" multiple onFiles={read} />
      <DialogShell
        open={found !== null}
        title="Grades from a register"
        width="middle"
        onClose={() => setFound(null)}
      >
        {found && (
          <>
            {found.classes.length > 1 && (
              <label className="mt-3 block">
                Class in the files
                <select className="field" value={chosen} onChange={(e) => setChosen(Number(e.target.value))}>
                  {found.classes.map((c, i) => (
                    <option key={`${c.title} ${i}`} value={i}>
                      {c.title}
                    </option>
                  ))}
                </select>
              </label>
            )}
            <ul className="mt-3 max-h-60 divide-y divide-line overflow-auto">
              {works.map((w, i) => (
                <li key={`${w.title} ${i}`} className="flex gap-3 py-1">
                  <b className="min-w-0 flex-1 truncate">{w.title}</b>
                  <span className="text-soft">
                    {w.category || 'other work'} · out of {w.most / 100} ·{' '}
                    {plural(w.grades.length, 'grade', 'grades')}
                  </span>
                </li>
              ))}
            </ul>
            {unknown.length > 0 && (
              <p className="mt-2 text-caution">
                Not in this class, or twice: {unknown.slice(0, 8).join(', ')}
                {unknown.length > 8 && ' …'}. Their grades are left out.
              </p>
            )}
            {found.troubles.slice(0, 5).map((t) => (
              <p key={`${t.what} ${t.of}`} className="mt-1 text-sm text-caution">
                {ROSTER_TROUBLE[t.what](t)}
              </p>
            ))}
            <div className="mt-4 flex gap-3">
              <button
                type="button"
                className="act"
                disabled={bring.isPending || known === 0}
                onClick={() => bring.mutate()}
              >
                {bring.isPending ? 'Entering …' : `Enter ${plural(known, 'grade', 'grades')}`}
              </button>
              <button type="button" className="quiet" onClick={() => setFound(null)}>
                Cancel
              </button>
            </div>
          </>
        )}
      </DialogShell>
    </>
  );
}
