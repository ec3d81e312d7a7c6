import { type AssignmentSheet, type AssignmentWords, type Audience, momentAt, wallTime } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useClasses } from '../ask/classes.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { NowOrLater } from '../frame/NowOrLater.tsx';
import { useHere } from '../frame/session.tsx';
import { plural } from '../time/words.ts';
import { useWhenRead } from './useWhenRead.ts';

interface Props {
  readonly open: boolean;
  readonly sheet: AssignmentSheet;
  readonly audience: Audience;
  readonly words: AssignmentWords;
  /** What must be kept before it can be set. */
  before(): Promise<void>;
  onClose(): void;
  onSet(copies: number, opensAt: number | null): void;
}

/** The one question before students see it: who gets it, from when on, and what may have been forgotten. */
export function SetDialog({ open, sheet, audience, words, before, onClose, onSet }: Props) {
  const { session } = useHere();
  const { timeZone } = session.school;
  const [later, setLater] = useState(false);
  const [at, setAt] = useState(() =>
    wallTime(Date.now() + 86_400_000, timeZone)
      .slice(0, 11)
      .concat('08:00'),
  );
  const classes = useClasses().data ?? [];
  const others = classes.filter((c) => audience.alsoClasses.includes(c.id));
  const own = audience.students ? audience.students.length : sheet.students.length;
  const total = own + others.reduce((n, c) => n + c.students, 0);
  const opensAt = later ? momentAt(at, timeZone) : null;
  const set = useMutation({
    mutationFn: async () => {
      await before();
      return call('setAssignment', { params: { assignmentId: sheet.id }, body: { opensAt } });
    },
    onSuccess: ({ copies }) => onSet(copies, opensAt),
  });
  const { wish, drop, waitsFor } = useWhenRead(sheet, set.mutate);
  const close = () => {
    drop();
    onClose();
  };
  const forgotten = [
    words.dueAt === null && 'It has no due date.',
    words.dueAt !== null && words.dueAt < Date.now() && 'Its due date is over already.',
    words.handsIn &&
      !sheet.materials.some((m) => m.kind === 'worksheet') &&
      'There is no worksheet: students hand in files of their own.',
    words.instructions.content.length === 0 && 'It has no instructions.',
    total === 0 && 'Nobody gets it yet; who joins the class later will.',
  ].filter(Boolean);
  return (
    <DialogShell open={open} title={`Hand out ${plural(total, 'copy', 'copies')}?`} onClose={close}>
      <p className="mt-2">
        {audience.students
          ? `${plural(own, 'chosen student', 'chosen students')} of ${sheet.className}`
          : `${sheet.className} (${own})`}
        {others.map((c) => `, ${c.name} (${c.students})`).join('')}. Every student gets a copy of their own.
      </p>
      {forgotten.length > 0 && (
        <ul className="mt-3 list-disc pl-5 text-caution">
          {forgotten.map((f) => (
            <li key={String(f)}>{f}</li>
          ))}
        </ul>
      )}
      <div className="mt-4">
        <NowOrLater
          words={{ now: 'Open it now', later: 'Open it later', time: 'Opens at' }}
          later={later}
          onLater={setLater}
          wall={at}
          onWall={setAt}
          at={opensAt}
        />
        {later && <p className="mt-1 text-sm text-soft">Until then students see nothing of it.</p>}
      </div>
      {waitsFor !== null && (
        <p role="status" className="mt-3">
          The pages of “{waitsFor}” are being made. As soon as they are there it is{' '}
          {later ? 'ready to open at that time' : 'handed out'}.
        </p>
      )}
      {set.error && (
        <p role="alert" className="mt-3 text-caution">
          {sentenceOf(set.error)}
        </p>
      )}
      <div className="mt-6 flex justify-end gap-3">
        <button type="button" className="quiet" onClick={close}>
          Cancel
        </button>
        <button
          type="button"
          className="act"
          disabled={set.isPending || waitsFor !== null || (later && opensAt === null)}
          onClick={wish}
        >
          {later ? 'Hand out then' : `Hand out ${plural(total, 'copy', 'copies')}`}
        </button>
      </div>
    </DialogShell>
  );
}
