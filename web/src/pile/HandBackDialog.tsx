import { type HandBackHow, type Pile, type PileRow, waits } from '@jotmark/core';
import { DialogShell } from '../frame/DialogShell.tsx';
import { useHere } from '../frame/session.tsx';
import { plural } from '../time/words.ts';
import { BackChecks } from './BackChecks.tsx';
import { HowFields } from './HowFields.tsx';
import type { HandBackPlan } from './useHandBackPlan.ts';

interface Props {
  readonly pile: Pile;
  readonly plan: HandBackPlan;
  readonly going: readonly PileRow[];
  readonly staying: readonly PileRow[];
  readonly busy: boolean;
  onCancel(): void;
  onHandBack(): void;
}

const name = (r: PileRow) => `${r.student.given} ${r.student.family}`.trim();

/** The one question before students see anything: how many go, when and how, what to look at before, and who is left behind and why. */
export function HandBackDialog({ pile, plan, going, staying, busy, onCancel, onHandBack }: Props) {
  const { clock } = useHere();
  const unmarked = staying.filter((r) => waits(r.place) || r.place === 'marked');
  const missing = staying.filter((r) => r.place === 'with-student');
  const what = plural(going.length, 'copy', 'copies');
  return (
    <DialogShell open title={`Hand back ${what}?`} width="middle" onClose={onCancel}>
      <p className="mt-2">{seen(plan.how, plan.later)}</p>
      {going[0] && (
        <a
          className="mt-1 inline-block text-action underline"
          href={`/desk/${going[0].copyId}/as-student?how=${encodeURIComponent(JSON.stringify(plan.how))}`}
          target="_blank"
          rel="noreferrer"
        >
          As {name(going[0])} will see it
        </a>
      )}
      <BackChecks assignmentId={pile.assignment.id} rows={going} />
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
      <HowFields plan={plan} graded={pile.assignment.most !== null} />
      <div className="sticky -bottom-6 -mx-6 mt-6 -mb-6 flex justify-end gap-3 border-t border-line bg-raised px-6 py-4">
        <button type="button" className="quiet" onClick={onCancel}>
          Cancel
        </button>
        <button
          type="button"
          className="act"
          disabled={busy || going.length === 0 || plan.unset}
          onClick={onHandBack}
        >
          {plan.later && plan.at !== null
            ? `Hand back ${what} ${clock.moment(plan.at, Date.now())}`
            : `Hand back ${what}`}
        </button>
      </div>
    </DialogShell>
  );
}

/** What students see, and from when. */
function seen({ unfinished, gradeAfter, tell }: HandBackHow, later: boolean): string {
  const from = later ? 'from that time on' : 'from this moment on, all at once';
  const what = unfinished
    ? 'marks, notes and closing words, without points and without a grade'
    : gradeAfter
      ? 'marks, notes and closing words, and the grade once they have opened all notes'
      : 'marks, notes, grade and closing words';
  return `Their students see ${what}, ${from}.${tell ? '' : ' Nobody tells them.'}`;
}
