import {
  type AssignmentId,
  type Evening,
  evenGrade,
  formatGrade,
  formatPoints,
  type PileScores,
  parseSigned,
  type ScoreRow,
  spreadOf,
} from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useId, useMemo, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { tell } from '../ask/stale.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { PointsInput } from '../frame/PointsInput.tsx';
import { toast } from '../frame/toast.ts';
import { plural } from '../time/words.ts';
import { nameOf } from './figures.ts';

/** Moves or stretches the grades of a pile: every one is shown before, and why it was done is kept. */
export function ShiftDialog({
  scores,
  assignmentId,
  onClose,
  onDone,
}: {
  scores: PileScores;
  assignmentId: AssignmentId;
  onClose(): void;
  onDone(): void;
}) {
  const client = useQueryClient();
  const { most: top, scoring } = scores.scoring;
  const most = top!;
  const name = useId();
  const [how, setHow] = useState<Evening['how']>('shift');
  const [byText, setByText] = useState('+0.5');
  const [from, setFrom] = useState<number | null>(null);
  const [to, setTo] = useState<number | null>(null);
  const [late, setLate] = useState(0);
  const [reason, setReason] = useState('');
  const open = useMemo(
    () =>
      scores.rows
        .filter((r) => r.grade !== null && r.place !== 'handed-back')
        .sort((a, b) => (a.markedAt ?? 0) - (b.markedAt ?? 0)),
    [scores.rows],
  );
  // Where marking grew stricter only the later ones are evened out.
  const some = open.slice(Math.floor((open.length * late) / 100));
  const by = parseSigned(byText);
  const evening: Evening | null =
    how === 'shift' ? (by ? { how, by } : null) : from !== null && to !== null ? { how, from, to } : null;
  const plan = some.map((row) => ({
    row,
    to: evening ? evenGrade(row.grade!, most, evening, scoring.rounding) : row.grade!,
  }));
  const changed = plan.filter((p) => p.to !== p.row.grade);
  const say = (v: number) => formatGrade(v, most, scoring.scale);
  const [before, after] = [spreadOf(some.map((r) => r.grade!)), spreadOf(plan.map((p) => p.to))];
  const act = useMutation({
    mutationFn: () =>
      call('evenOut', {
        params: { assignmentId },
        body: { evening: evening!, copyIds: changed.map((p) => p.row.copyId), reason: reason.trim() },
      }),
    onSuccess: (answer) => {
      tell(client, 'scoredAcross', { assignmentId });
      toast.success(
        `${plural(answer.changed, 'grade', 'grades')} evened out.${answer.kept ? ` ${answer.kept} stayed: they were changed or handed back meanwhile.` : ''}`,
      );
      onDone();
    },
    onError: (error) => toast.error(sentenceOf(error)),
  });
  return (
    <DialogShell open title="Shift or stretch the grades" width="wide" onClose={onClose}>
      <div className="mt-3 flex flex-wrap items-center gap-x-6 gap-y-2">
        <label className="flex items-center gap-2">
          <input
            type="radio"
            name={name}
            className="size-4 accent-action"
            checked={how === 'shift'}
            onChange={() => setHow('shift')}
          />
          Shift all by
          <input
            aria-label="Shift by"
            className="field !min-h-8 !w-20 !py-0 text-right tabular"
            value={byText}
            aria-invalid={how === 'shift' && by === null}
            onFocus={() => setHow('shift')}
            onChange={(e) => setByText(e.target.value)}
          />
          points
        </label>
        <label className="flex items-center gap-2">
          <input
            type="radio"
            name={name}
            className="size-4 accent-action"
            checked={how === 'stretch'}
            onChange={() => setHow('stretch')}
          />
          Stretch: what is
        </label>
        <PointsInput
          aria-label="Stretch from"
          className="field !min-h-8 !w-16 !py-0 text-right tabular"
          value={from}
          onFocus={() => setHow('stretch')}
          onChange={(v) => setFrom(v === null ? null : Math.min(v, most))}
        />
        becomes
        <PointsInput
          aria-label="Stretch to"
          className="field !min-h-8 !w-16 !py-0 text-right tabular"
          value={to}
          onFocus={() => setHow('stretch')}
          onChange={(v) => setTo(v === null ? null : Math.min(v, most))}
        />
        <span className="text-sm text-soft">
          and {formatPoints(most)} stays {formatPoints(most)}
        </span>
      </div>
      <label className="mt-3 flex flex-wrap items-center gap-3 text-sm">
        Which copies
        <input
          type="range"
          className="w-48 accent-action"
          aria-label="From which on, in the order of marking, in percent"
          min={0}
          max={90}
          step={10}
          value={late}
          onChange={(e) => setLate(Number(e.target.value))}
        />
        {late === 0 ? `all ${open.length}` : `the last ${some.length}, in the order of marking`}
      </label>
      <Preview plan={changed} before={before?.median ?? null} after={after?.median ?? null} say={say} />
      <label className="mt-3 block text-sm">
        Why (it is kept with the grades)
        <input
          className="field mt-1"
          maxLength={1000}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
        />
      </label>
      <div className="mt-4 flex gap-3">
        <button
          type="button"
          className="act"
          disabled={act.isPending || changed.length === 0 || !reason.trim()}
          onClick={() => act.mutate()}
        >
          Change {plural(changed.length, 'grade', 'grades')}
        </button>
        <button type="button" className="quiet" onClick={onClose}>
          Cancel
        </button>
      </div>
    </DialogShell>
  );
}

/** Every grade that changes, before it is changed. */
function Preview({
  plan,
  before,
  after,
  say,
}: {
  plan: readonly { readonly row: ScoreRow; readonly to: number }[];
  before: number | null;
  after: number | null;
  say(value: number): string;
}) {
  return (
    <section className="mt-3 rounded border border-line p-3 text-sm" aria-label="What it changes">
      <p className="font-semibold">
        {plural(plan.length, 'grade changes', 'grades change')}
        {before !== null && after !== null && `; half have ${say(before)} or less now, ${say(after)} then`}
      </p>
      <ul className="mt-1 grid max-h-52 grid-cols-3 gap-x-6 overflow-auto tabular">
        {plan.map(({ row, to }) => (
          <li key={row.copyId} className="flex gap-2">
            <span className="min-w-0 flex-1 truncate">{nameOf(row)}</span>
            <span>
              {say(row.grade!)} → <b>{say(to)}</b>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
