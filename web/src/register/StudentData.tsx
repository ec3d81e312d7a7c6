import type { ClassId, RegisterRow } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { Making, useTakeOut } from '../frame/TakeOut.tsx';
import { toast } from '../frame/toast.ts';
import { plural } from '../time/words.ts';

const button = 'min-h-8 rounded px-2 text-sm text-soft hover:bg-action-wash hover:text-action';

/** All data of a student who has left: given out whole, and erased. What goes and what stays is said before. */
export function StudentData({
  classId,
  student,
  onErased,
}: {
  classId: ClassId;
  student: RegisterRow;
  onErased(): void;
}) {
  const out = useTakeOut();
  const [asking, setAsking] = useState(false);
  const name = `${student.given} ${student.family}`.trim();
  const { personId } = student;
  const save = () => out.order('all data', { what: 'student', classId, personId });
  const erase = useMutation({
    mutationFn: () => call('eraseStudent', { params: { classId, personId } }),
    onSuccess: ({ copies, shared, account }) => {
      setAsking(false);
      toast.success(
        [
          `${plural(copies, 'copy', 'copies')} of ${name} erased, with all that came of them.`,
          shared > 0 &&
            `${plural(shared, 'copy of a group stays', 'copies of groups stay')} with the others.`,
          account ? 'The account is gone.' : 'The account stays: it is in another class.',
        ]
          .filter(Boolean)
          .join(' '),
        { duration: 12_000 },
      );
      onErased();
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  return (
    <>
      {out.making ? (
        <Making out={out} />
      ) : (
        <button type="button" className={button} aria-label={`Save all data of ${name}`} onClick={save}>
          Save all data
        </button>
      )}
      <button
        type="button"
        className={button}
        aria-label={`Erase all data of ${name}`}
        onClick={() => setAsking(true)}
      >
        Erase …
      </button>
      <DialogShell open={asking} title={`Erase all data of ${name}?`} onClose={() => setAsking(false)}>
        <p className="mt-3">
          Copies, hand-ins, marking, grades, messages, remarks and reports of {name} in this class are deleted
          for good. The account goes too, unless {student.given} is in another class.
        </p>
        <p className="mt-2">
          What stays: copies that a group shares, without {student.given}’s messages; lines of the log of
          acts; and backups of your school.
        </p>
        <div className="mt-5 flex flex-wrap gap-3">
          <button type="button" className="act" disabled={erase.isPending} onClick={() => erase.mutate()}>
            Erase all data
          </button>
          <button type="button" className="quiet" onClick={() => setAsking(false)}>
            Cancel
          </button>
          <button type="button" className="quiet ml-auto" disabled={out.making !== null} onClick={save}>
            Save all data first
          </button>
        </div>
      </DialogShell>
    </>
  );
}
