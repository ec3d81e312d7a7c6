import {
  type AssignmentId,
  formatPoints,
  type HungRubric,
  mostOfRubric,
  type RubricVersionId,
  type Scoring,
  type ScoringShape,
} from '@jotmark/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useId, useMemo, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { off } from '../frame/off.ts';
import { PointsInput } from '../frame/PointsInput.tsx';
import { toast } from '../frame/toast.ts';
import { plural } from '../time/words.ts';
import { LateFields } from './LateFields.tsx';
import { PileQuestionFields } from './PileQuestionFields.tsx';
import { ScaleFields } from './ScaleFields.tsx';
import { ScoringEffect, useEffectOf } from './ScoringEffect.tsx';

interface Props {
  readonly assignmentId: AssignmentId;
  readonly shape: ScoringShape;
  onMost(most: number | null): void;
  onClose(): void;
}

/** Who comes: a teacher who sets work, or sees that the sum is not what it should be. Changes one thing, sees which grades it changes, keeps it. */
export function ScoringDialog({ assignmentId, shape, onMost, onClose }: Props) {
  const client = useQueryClient();
  const [scoring, setScoring] = useState(shape.scoring);
  const [most, setMost] = useState(shape.most);
  const [hung, setHung] = useState<RubricVersionId | null>(shape.rubric?.versionId ?? null);
  const [news, setNews] = useState('');
  const edit = useMemo(() => ({ scoring, rubricVersionId: hung, most, news: null }), [scoring, hung, most]);
  const effect = useEffectOf(assignmentId, edit);
  const change = (part: Partial<Scoring>) => setScoring((old) => ({ ...old, ...part }));
  const save = useMutation({
    mutationFn: () =>
      call('saveScoring', {
        params: { assignmentId },
        body: { ...edit, news: news.trim() ? news.trim() : null },
      }),
    onSuccess: ({ scoring: next, changes }) => {
      client.setQueryData(keys.scoring(assignmentId), next);
      onMost(next.most);
      tell(client, 'scoringChanged', { assignmentId });
      toast.success(
        changes.length ? `Saved; ${plural(changes.length, 'grade', 'grades')} computed anew.` : 'Saved.',
      );
      onClose();
    },
    onError: (error) => toast.error(sentenceOf(error)),
  });
  return (
    <DialogShell open title="How it is scored" width="wide" onClose={onClose}>
      <div className="mt-3 space-y-5">
        <RubricChoice shape={shape} hung={hung} onHung={setHung} most={most} onMost={setMost} />
        <Most shape={shape} most={most} onMost={setMost} />
        {most !== null && (
          <>
            <MadeBy scoring={scoring} hasRubric={hung !== null} onChange={change} />
            <ScaleFields scale={scoring.scale} rounding={scoring.rounding} onChange={change} />
            <LateFields late={scoring.late} onChange={(late) => change({ late })} />
            <Again scoring={scoring} onChange={change} />
          </>
        )}
        <PileQuestionFields questions={scoring.questions} onChange={(questions) => change({ questions })} />
        {hung !== null && (
          <label className="flex items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="size-4 accent-action"
              checked={scoring.familySeesRubric}
              onChange={(e) => change({ familySeesRubric: e.target.checked })}
            />
            Families see the rubric on their page
          </label>
        )}
        {shape.open && (
          <label className="block text-sm">
            <span className="text-soft">Tell the students what changed (optional)</span>
            <textarea
              className="field mt-1"
              maxLength={1000}
              value={news}
              onChange={(e) => setNews(e.target.value)}
            />
          </label>
        )}
        <ScoringEffect effect={effect} most={most} scale={scoring.scale} />
      </div>
      <div className="mt-5 flex gap-3">
        <button
          type="button"
          className="act"
          disabled={save.isPending || effect.busy || effect.error !== null}
          onClick={() => save.mutate()}
        >
          Save
        </button>
        <button type="button" className="quiet" onClick={onClose}>
          Cancel
        </button>
      </div>
    </DialogShell>
  );
}

function RubricChoice({
  shape,
  hung,
  onHung,
  most,
  onMost,
}: {
  shape: ScoringShape;
  hung: RubricVersionId | null;
  onHung(id: RubricVersionId | null): void;
  most: number | null;
  onMost(most: number | null): void;
}) {
  const field = useId();
  const mine = useQuery({ queryKey: keys.rubrics, queryFn: () => call('rubrics') });
  const now: HungRubric | null = shape.rubric;
  const lines = (mine.data ?? []).filter((r) => !r.putAway || r.versionId === hung);
  const listed = lines.some((r) => r.versionId === hung);
  const newer = now && hung === now.versionId && now.newest !== now.versionId ? now.newest : null;
  const sum =
    lines.find((r) => r.versionId === hung)?.most ??
    (now && hung === now.versionId ? mostOfRubric(now.rubric) : null);
  return (
    <div>
      <label htmlFor={field} className="font-semibold">
        Rubric
      </label>
      <select
        id={field}
        className="field mt-1"
        value={hung ?? ''}
        onChange={(e) => onHung((e.target.value || null) as RubricVersionId | null)}
      >
        <option value="">none</option>
        {now && !listed && hung === now.versionId && (
          <option value={now.versionId}>
            {now.name} (version {now.number})
          </option>
        )}
        {lines.map((r) => (
          <option key={r.id} value={r.versionId}>
            {r.name} · {plural(r.criteria, 'criterion', 'criteria')}
            {r.number > 1 ? `, version ${r.number}` : ''}
          </option>
        ))}
      </select>
      <p className="mt-1 text-sm text-soft">Students read it beside their copy from the opening on.</p>
      {newer && (
        <p className="mt-1 text-sm text-caution">
          There is a newer version of it.{' '}
          <button type="button" className="underline" onClick={() => onHung(newer)}>
            Use the new version
          </button>
        </p>
      )}
      {sum !== null && sum > 0 && sum !== most && (
        <p className="mt-1 text-sm">
          Its points come to {formatPoints(sum)}.{' '}
          <button type="button" className="text-action underline" onClick={() => onMost(sum)}>
            Use {formatPoints(sum)} as the points of this work
          </button>
        </p>
      )}
    </div>
  );
}

function Most({
  shape,
  most,
  onMost,
}: {
  shape: ScoringShape;
  most: number | null;
  onMost(most: number | null): void;
}) {
  const field = useId();
  const questions = shape.asked.reduce((sum, q) => sum + (q.most ?? 0), 0);
  return (
    <div>
      <label htmlFor={field} className="font-semibold">
        Points (empty: ungraded)
      </label>
      <PointsInput id={field} className="field mt-1 !w-32 tabular" value={most} onChange={onMost} />
      {questions > 0 && questions !== most && (
        <p className="mt-1 text-sm">
          Its questions come to {formatPoints(questions)}.{' '}
          <button type="button" className="text-action underline" onClick={() => onMost(questions)}>
            Use {formatPoints(questions)} as the points of this work
          </button>
        </p>
      )}
      {most === null && (
        <p className="mt-1 text-sm text-soft">
          Ungraded work has no number anywhere; a rubric tells levels only.
        </p>
      )}
    </div>
  );
}

const MAKES = [
  ['hand', 'I type it'],
  ['tally', 'the points of the questions'],
  ['rubric', 'the rubric'],
  ['both', 'both, by shares'],
] as const;

function MadeBy({
  scoring,
  hasRubric,
  onChange,
}: {
  scoring: Scoring;
  hasRubric: boolean;
  onChange(part: Partial<Scoring>): void;
}) {
  const name = useId();
  return (
    <fieldset>
      <legend className="font-semibold">What makes the grade</legend>
      <div className="mt-1 flex flex-wrap gap-x-5 gap-y-1">
        {MAKES.map(([by, words]) => (
          <label key={by} className="flex items-center gap-2">
            <input
              type="radio"
              name={name}
              className="size-4 accent-action"
              checked={scoring.by === by}
              {...off(
                (by === 'rubric' || by === 'both') && !hasRubric && 'No rubric belongs to this work yet.',
              )}
              onChange={() => onChange({ by })}
            />
            {words}
          </label>
        ))}
      </div>
      {scoring.by === 'both' && (
        <label className="mt-2 flex items-center gap-3 text-sm">
          <span>Questions {scoring.tallyShare} %</span>
          <input
            type="range"
            aria-label="Share of the questions, in percent"
            className="w-60 accent-action"
            min={0}
            max={100}
            step={5}
            value={scoring.tallyShare}
            onChange={(e) => onChange({ tallyShare: Number(e.target.value) })}
          />
          <span>rubric {100 - scoring.tallyShare} %</span>
        </label>
      )}
      {hasRubric && (scoring.by === 'hand' || scoring.by === 'tally') && (
        <p className="mt-1 text-sm text-soft">The rubric informs only.</p>
      )}
      {(scoring.by === 'rubric' || scoring.by === 'both') && (
        <label className="mt-2 flex items-center gap-2 text-sm">
          A criterion that was not shown
          <select
            className="field !min-h-8 !w-auto !py-0"
            value={scoring.notShown}
            onChange={(e) => onChange({ notShown: e.target.value as Scoring['notShown'] })}
          >
            <option value="left-out">is left out of the sum</option>
            <option value="zero">counts as 0</option>
          </select>
        </label>
      )}
    </fieldset>
  );
}

function Again({ scoring, onChange }: { scoring: Scoring; onChange(part: Partial<Scoring>): void }) {
  return (
    <label className="flex items-center gap-2 text-sm">
      When work is handed in again
      <select
        className="field !min-h-8 !w-auto !py-0"
        value={scoring.again}
        onChange={(e) => onChange({ again: e.target.value as Scoring['again'] })}
      >
        <option value="later">the later grade counts</option>
        <option value="better">the better grade counts</option>
      </select>
    </label>
  );
}
