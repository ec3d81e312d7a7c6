import { type AssignmentSheet, type AssignmentStudent, momentAt, wallTime } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { useAtOnce } from '../ask/useAtOnce.ts';
import { useHere } from '../frame/session.tsx';

/** Each student's own terms: excused, or another date. One unfolds at a time. */
export function StudentTerms({
  sheet,
  onChanged,
}: {
  sheet: AssignmentSheet;
  onChanged(sheet: AssignmentSheet): void;
}) {
  const { clock } = useHere();
  const [open, setOpen] = useState<string | null>(null);
  const withCopy = sheet.students.filter((s) => s.copyId !== null);
  return (
    <section aria-label="Students and their due dates">
      <h2 className="mb-2 font-bold">Students ({withCopy.length})</h2>
      <ul className="max-h-96 divide-y divide-line overflow-auto rounded-lg bg-raised shadow-sm">
        {withCopy.map((s) => (
          <li key={s.personId} className="px-3 py-1">
            <button
              type="button"
              aria-expanded={open === s.personId}
              className="flex w-full items-baseline gap-2 py-0.5 text-left hover:text-action"
              onClick={() => setOpen(open === s.personId ? null : s.personId)}
            >
              <span className="min-w-0 flex-1 truncate">
                {s.given} {s.family}
              </span>
              <span className="text-sm text-soft">
                {s.excused
                  ? 'excused'
                  : s.dueAt !== null
                    ? clock.moment(s.dueAt, Date.now())
                    : s.handedIn
                      ? 'in'
                      : ''}
              </span>
            </button>
            {open === s.personId && <Terms sheet={sheet} student={s} onChanged={onChanged} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Terms({
  sheet,
  student,
  onChanged,
}: {
  sheet: AssignmentSheet;
  student: AssignmentStudent;
  onChanged(sheet: AssignmentSheet): void;
}) {
  const { session } = useHere();
  const tell = useTell();
  const { timeZone } = session.school;
  const field = useId();
  const save = useMutation({
    mutationFn: (terms: { excused: boolean; dueAt: number | null }) =>
      call('studentTerms', { params: { assignmentId: sheet.id, personId: student.personId }, body: terms }),
    onSuccess: (next) => {
      onChanged(next);
      tell('pileChanged', { assignmentId: sheet.id });
    },
  });
  const [excused, setExcused] = useAtOnce(student.excused, (next) =>
    save.mutateAsync({ excused: next, dueAt: student.dueAt }),
  );
  return (
    <div className="space-y-2 pb-2">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4 accent-action"
          checked={excused}
          onChange={(e) => setExcused(e.target.checked)}
        />
        Excused
      </label>
      <div>
        <label htmlFor={field} className="text-sm text-soft">
          Own due date
        </label>
        <input
          id={field}
          type="datetime-local"
          className="field"
          defaultValue={student.dueAt === null ? '' : wallTime(student.dueAt, timeZone)}
          onBlur={(e) => {
            const dueAt = momentAt(e.target.value, timeZone);
            if (dueAt !== student.dueAt) save.mutate({ excused, dueAt });
          }}
        />
      </div>
      {save.error && (
        <p role="alert" className="text-sm text-caution">
          {sentenceOf(save.error)}
        </p>
      )}
    </div>
  );
}
