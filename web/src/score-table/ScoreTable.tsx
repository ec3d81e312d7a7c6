import {
  AssignmentId,
  type Criterion,
  type CriterionId,
  compareNames,
  formatPoints,
  type PileScores,
  type QuestionId,
  registerName,
  type ScoreRow,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { ArrowDown, ArrowUp, Rows3 } from 'lucide-react';
import { memo, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { useHere } from '../frame/session.tsx';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { tip } from '../frame/tip.ts';
import { useRowsInSight } from '../frame/useRowsInSight.ts';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';
import { sheetOfRow } from '../outbox/alone.ts';
import { outbox } from '../outbox/outbox.ts';
import { SaveSign } from '../outbox/SaveSign.tsx';
import { useOutbox } from '../outbox/useSheetKeeper.ts';
import { addressOfCopy } from '../pile-order/copy-address.ts';
import { GradeField } from '../scores/GradeField.tsx';
import { PointsField } from '../scores/PointsField.tsx';
import { readPoints } from '../scores/read-typed.ts';
import { stepWords } from '../scores/steps-words.ts';
import { plural } from '../time/words.ts';
import { type ScoreWrites, useScoreWrites } from './useScoreWrites.ts';

/** How often it is asked what was scored elsewhere. */
const ASK_MS = 4000;
/** In CSS pixels. */
const ROW_HEIGHT = 30;

type Column =
  | { readonly id: 'name' | 'sum' | 'grade' | 'marked' }
  | { readonly id: `q:${string}`; readonly question: QuestionId }
  | { readonly id: `c:${string}`; readonly criterion: CriterionId };

/** Who comes: a teacher who wants to see the whole pile as numbers. Reads down a column, sorts by it, mends one, opens a copy. */
export function ScoreTable() {
  const parsed = AssignmentId.safeParse(useParams().assignmentId);
  useOutbox();
  const scores = useQuery({
    queryKey: keys.pileScores(parsed.data ?? ('' as AssignmentId)),
    queryFn: () => call('pileScores', { params: { assignmentId: parsed.data! } }),
    enabled: parsed.success,
    refetchInterval: () => (outbox.standing.waiting ? false : ASK_MS),
  });
  if (!parsed.success) return <Trouble error={new CallFailed('not-found')} />;
  const { standing } = outbox;
  return (
    <div className="flex min-h-full flex-col">
      <TopBar
        crumbs={[
          { text: 'Today', to: '/' },
          { text: scores.data?.title ?? 'Pile', to: `/piles/${parsed.data}` },
          { text: 'Table of scores' },
        ]}
      >
        {standing.waiting > 0 && <SaveSign save={standing.save} waiting={standing.waiting} />}
      </TopBar>
      {scores.error ? (
        <Trouble error={scores.error} again={() => scores.refetch()} />
      ) : !scores.data ? (
        <Waiting what="the scores" />
      ) : scores.data.rows.length === 0 ? (
        <Empty title="This pile is empty">Its copies stand here when there are some.</Empty>
      ) : (
        <Table scores={scores.data} assignmentId={parsed.data} />
      )}
    </div>
  );
}

/** By what a column says; what says nothing stands last either way. */
function valueIn(row: ScoreRow, column: Column): number | string | null {
  if ('question' in column) return row.points.find((p) => p.question === column.question)?.points ?? null;
  if ('criterion' in column)
    return row.levels.find((l) => l.criterion === column.criterion && l.round === 'final')?.step ?? null;
  switch (column.id) {
    case 'name':
      return `${row.student.family} ${row.student.given}`;
    case 'sum':
      return row.sum;
    case 'marked':
      return row.markedAt;
    default:
      return row.grade;
  }
}

function sorted(rows: readonly ScoreRow[], column: Column, down: boolean): ScoreRow[] {
  return [...rows].sort((a, b) => {
    const [x, y] = [valueIn(a, column), valueIn(b, column)];
    if (x === null || y === null) return Number(x === null) - Number(y === null);
    const by = typeof x === 'string' ? compareNames(x, String(y)) : x - Number(y);
    return down ? -by : by;
  });
}

function Table({ scores, assignmentId }: { scores: PileScores; assignmentId: AssignmentId }) {
  const { clock } = useHere();
  const { scoring } = scores;
  const graded = scoring.most !== null;
  const [by, setBy] = useState<{ column: Column; down: boolean }>({ column: { id: 'name' }, down: false });
  const rows = useMemo(() => sorted(scores.rows, by.column, by.down), [scores.rows, by]);
  const criteria = scoring.rubric?.rubric.criteria ?? [];
  const writes = useScoreWrites(assignmentId);
  const body = useRef<HTMLTableSectionElement>(null);
  const { from, to, before, after } = useRowsInSight(rows.length, ROW_HEIGHT, body);
  const head = (column: Column, label: string, what: string, across?: QuestionId) => {
    const on = by.column.id === column.id;
    return (
      <th
        key={column.id}
        scope="col"
        aria-sort={on ? (by.down ? 'descending' : 'ascending') : 'none'}
        className={`px-1 py-1 font-normal ${column.id === 'name' ? 'text-left' : 'text-right'}`}
      >
        <button
          type="button"
          className="font-semibold hover:text-action"
          aria-label={`Sort by ${what}`}
          {...tip(what)}
          onClick={() => setBy({ column, down: on ? !by.down : column.id !== 'name' })}
        >
          {label}
          {on &&
            (by.down ? (
              <ArrowDown size={12} className="ml-0.5 inline" aria-hidden="true" />
            ) : (
              <ArrowUp size={12} className="ml-0.5 inline" aria-hidden="true" />
            ))}
        </button>
        {across && (
          <Link
            className="ml-1 inline-block text-soft hover:text-action"
            to={`/piles/${assignmentId}/across/${across}`}
            aria-label={`Question ${label} across the class`}
            {...tip('This question of all copies, one below the other')}
          >
            <Rows3 size={13} aria-hidden="true" />
          </Link>
        )}
      </th>
    );
  };
  return (
    <main className="p-4">
      <div className="overflow-x-auto rounded-lg bg-raised px-4 pb-3 shadow-sm">
        <table className="w-full border-collapse text-[14px] tabular" aria-rowcount={rows.length + 1}>
          <caption className="py-2 text-left text-sm text-soft">
            {plural(rows.length, 'copy', 'copies')}
            {scoring.rubric && ` · ${scoring.rubric.name}, version ${scoring.rubric.number}`} · fills while
            one marks
          </caption>
          <thead className="border-b border-line-strong align-bottom text-soft">
            <tr>
              {head({ id: 'name' }, 'Student', 'name')}
              {graded &&
                scoring.asked.map((q) =>
                  head({ id: `q:${q.id}`, question: q.id }, q.label, `question ${q.label}`, q.id),
                )}
              {graded && scoring.asked.length > 0 && head({ id: 'sum' }, 'Points', 'points of all questions')}
              {criteria.map((c) => head({ id: `c:${c.id}`, criterion: c.id }, short(c.name), c.name))}
              {graded && head({ id: 'grade' }, 'Grade', 'grade')}
              {head({ id: 'marked' }, 'Marked', 'when it was marked')}
            </tr>
          </thead>
          <tbody ref={body}>
            {before > 0 && <tr style={{ height: before }} />}
            {rows.slice(from, to).map((row) => (
              <Line
                key={row.copyId}
                row={row}
                scores={scores}
                writes={writes}
                when={row.markedAt === null ? '' : clock.moment(row.markedAt, Date.now())}
                midwayWhen={row.midwayAt === null ? null : clock.moment(row.midwayAt, Date.now())}
              />
            ))}
            {after > 0 && <tr style={{ height: after }} />}
          </tbody>
        </table>
      </div>
    </main>
  );
}

const short = (name: string): string => (name.length > 14 ? `${name.slice(0, 13)}…` : name);

const Line = memo(function Line({
  row,
  scores,
  writes,
  when,
  midwayWhen,
}: {
  row: ScoreRow;
  scores: PileScores;
  writes: ScoreWrites;
  when: string;
  midwayWhen: string | null;
}) {
  const { scoring } = scores;
  const { most } = scoring;
  const name = `${row.student.given} ${row.student.family}`;
  const fixed = row.place === 'handed-back';
  return (
    <tr className="h-[30px] border-b border-line hover:bg-action-wash">
      <th scope="row" className="px-1 text-left font-medium">
        <Link
          className="inline-flex items-center gap-2 hover:text-action hover:underline"
          to={addressOfCopy(row)}
        >
          <PlaceGlyph place={row.place} size={14} />
          <span className="sr-only">{PLACE_WORDS[row.place]}: </span>
          {registerName(row.student)}
        </Link>
        {row.troubles > 0 && (
          <span className="ml-2 text-[12px] text-caution">
            {plural(row.troubles, 'thing does', 'things do')} not add up
          </span>
        )}
      </th>
      {most !== null &&
        scoring.asked.map((q) => (
          <PointsCell key={q.id} row={row} question={q} name={name} fixed={fixed} writes={writes} />
        ))}
      {most !== null && scoring.asked.length > 0 && (
        <td className="px-1 text-right">{row.sum === null ? '' : formatPoints(row.sum)}</td>
      )}
      {(scoring.rubric?.rubric.criteria ?? []).map((c) => (
        <CriterionCell key={c.id} row={row} criterion={c} midwayWhen={midwayWhen} />
      ))}
      {most !== null && (
        <td className="px-1 text-right">
          <GradeField
            label={`Grade of ${name}`}
            sheetId={sheetOfRow(row)}
            className="w-16 rounded border border-transparent bg-transparent px-1 text-right font-semibold hover:border-line focus:border-action focus:bg-paper"
            value={row.grade}
            most={most}
            scale={scoring.scoring.scale}
            readOnly={fixed}
            onValue={(value) => writes.grade(row, value)}
          />
        </td>
      )}
      <td className="px-1 text-right text-soft">{when}</td>
    </tr>
  );
});

function PointsCell({
  row,
  question,
  name,
  fixed,
  writes,
}: {
  row: ScoreRow;
  question: PileScores['scoring']['asked'][number];
  name: string;
  fixed: boolean;
  writes: ScoreWrites;
}) {
  const me = useHere().session.person!.id;
  if (question.most === null) return <td />;
  const points = row.points.find((p) => p.question === question.id)?.points ?? null;
  return (
    <td className="px-1 text-right">
      <PointsField
        label={`Question ${question.label} of ${name}`}
        className="w-11 rounded border border-transparent bg-transparent px-1 text-right hover:border-line focus:border-action focus:bg-paper"
        place={`jotmark.points.${me}.${sheetOfRow(row)}.${question.id}`}
        value={points}
        readOnly={fixed}
        read={(text) => readPoints(text, question.most!)}
        show={formatPoints}
        onValue={(value) => writes.points(row, question.id, value)}
      />
    </td>
  );
}

/** Where somebody stands, and stood midway; each round says when. */
function CriterionCell({
  row,
  criterion,
  midwayWhen,
}: {
  row: ScoreRow;
  criterion: Criterion;
  midwayWhen: string | null;
}) {
  const { clock } = useHere();
  const at = (round: 'midway' | 'final') =>
    row.levels.find((l) => l.criterion === criterion.id && l.round === round);
  const [midway, final] = [at('midway'), at('final')];
  const dated = [
    midway && `midway ${clock.moment(midway.at, Date.now())}${midwayWhen ? `, released ${midwayWhen}` : ''}`,
    final && `final ${clock.moment(final.at, Date.now())}`,
  ].filter(Boolean);
  return (
    <td className="px-1 text-right" {...tip(dated.join(' · ') || undefined)}>
      {midway && <span className="text-soft">{stepWords(criterion, midway.step)} → </span>}
      {final ? stepWords(criterion, final.step) : ''}
    </td>
  );
}
