import type { PileRow } from '@jotmark/core';
import { DialogShell } from '../frame/DialogShell.tsx';
import { plural } from '../time/words.ts';

interface Props {
  readonly open: boolean;
  readonly going: readonly PileRow[];
  readonly staying: readonly PileRow[];
  readonly busy: boolean;
  onCancel(): void;
  onHandBack(): void;
}

const name = (r: PileRow) => `${r.student.given} ${r.student.family}`;

/** The one question before students see anything: how many go, and who is left behind and why. */
export function HandBackDialog({ open, going, staying, busy, onCancel, onHandBack }: Props) {
  const unmarked = staying.filter((r) => r.place !== 'with-student');
  const missing = staying.filter((r) => r.place === 'with-student');
  const ungraded = going.filter((r) => r.grade === null);
  return (
    <DialogShell
      open={open}
      title={`Hand back ${plural(going.length, 'copy', 'copies')}?`}
      onClose={onCancel}
    >
      <p className="mt-2">
        Their students see marks, notes, grade and closing words from this moment on, all at once.
      </p>
      {ungraded.length > 0 && (
        <p className="mt-3 text-caution">Without a grade: {ungraded.map(name).join(', ')}.</p>
      )}
      {unmarked.length > 0 && (
        <p className="mt-3">
          <strong>Not marked, stays with you ({unmarked.length}):</strong> {unmarked.map(name).join(', ')}.
        </p>
      )}
      {missing.length > 0 && (
        <p className="mt-3 text-soft">
          Not handed in ({missing.length}): {missing.map(name).join(', ')}.
        </p>
      )}
      <div className="mt-6 flex justify-end gap-3">
        <button type="button" className="quiet" onClick={onCancel}>
          Not yet
        </button>
        <button type="button" className="act" disabled={busy} onClick={onHandBack}>
          Hand back {plural(going.length, 'copy', 'copies')}
        </button>
      </div>
    </DialogShell>
  );
}
