import {
  type AssignmentId,
  type CopyId,
  formatPoints,
  type PileScores,
  type QuestionId,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { addressOf, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Crop } from '../paper/Crop.tsx';
import { addressOfCopy } from '../pile-order/copy-address.ts';
import { type By, type Compared, nameOf } from './figures.ts';

/** How wide an answer is shown, in CSS pixels. */
const WIDE = 270;

/** The copies by score, the one in hand with its neighbours: what was judged nearly the same, one beside the other. */
export function Neighbours({
  sorted,
  all,
  at,
  say,
  by,
  scores,
  assignmentId,
  onHere,
}: {
  sorted: readonly Compared[];
  all: readonly Compared[];
  at: number;
  say(value: number): string;
  by: By;
  scores: PileScores;
  assignmentId: AssignmentId;
  onHere(copyId: CopyId): void;
}) {
  const question = by.of === 'question' ? (by.id as QuestionId) : null;
  const across = useQuery({
    queryKey: keys.across(assignmentId, question ?? ('' as QuestionId)),
    queryFn: () => call('across', { params: { assignmentId, questionId: question! } }),
    enabled: question !== null,
  });
  if (sorted.length === 0)
    return <p className="rounded-lg bg-raised p-4 text-soft">Nothing is scored by this yet.</p>;
  const from = Math.max(0, Math.min(at - 1, sorted.length - 4));
  const shown = sorted.slice(from, from + 4);
  const here = sorted[at]!;
  return (
    <ul className="grid grid-cols-[repeat(auto-fit,minmax(260px,1fr))] gap-4" aria-label="Copies by score">
      {shown.map((c) => {
        const isHere = c === here;
        const answer = across.data?.copies.find((a) => a.copyId === c.row.copyId);
        return (
          <li
            key={c.row.copyId}
            aria-current={isHere}
            className={`rounded-lg bg-raised p-3 shadow-sm ${isHere ? 'outline-2 outline-action' : ''}`}
          >
            <button
              type="button"
              className="flex w-full items-baseline gap-2 text-left"
              onClick={() => onHere(c.row.copyId)}
            >
              <b className="min-w-0 truncate">{nameOf(c.row)}</b>
              <span className="text-[13px] whitespace-nowrap text-soft">
                marked as no. {all.indexOf(c) + 1}
              </span>
              <b className="ml-auto text-xl tabular">{say(c.value)}</b>
            </button>
            <div className="mt-2 h-40 overflow-hidden">
              {question && answer ? (
                answer.document && answer.box ? (
                  <Crop
                    document={answer.document}
                    page={answer.page}
                    box={answer.box}
                    width={WIDE}
                    label={`Answer of ${nameOf(c.row)}`}
                  />
                ) : (
                  <p className="text-answer">{answer.value || 'nothing written'}</p>
                )
              ) : (
                <Levels c={c} scores={scores} />
              )}
            </div>
            <p className="mt-2 flex text-[13px] text-soft">
              <span className="flex-1">{isHere ? 'selected' : compareWords(here, c, say)}</span>
              <Link className="text-action hover:underline" to={addressOfCopy(c.row)}>
                open
              </Link>
            </p>
          </li>
        );
      })}
    </ul>
  );
}

const compareWords = (here: Compared, other: Compared, say: (v: number) => string): string =>
  other.value === here.value
    ? 'the same score'
    : other.value > here.value
      ? `higher: ${say(other.value)}`
      : `lower: ${say(other.value)}`;

/** What the copy has besides: its first page small, and its points. */
function Levels({ c, scores }: { c: Compared; scores: PileScores }) {
  const { row } = c;
  return (
    <div className="flex gap-3 text-[13px] text-soft">
      {row.cover && (
        <img
          src={addressOf('documentPicture', { documentId: row.cover })}
          alt=""
          loading="lazy"
          className="h-40 w-28 shrink-0 border border-line bg-paper object-cover object-top"
        />
      )}
      <ul>
        {row.marker && <li>by {row.marker.name}</li>}
        {scores.scoring.asked.map((q) => {
          const earned = row.points.find((p) => p.question === q.id);
          return earned ? (
            <li key={q.id} className="tabular">
              {q.label}: <b className="text-text">{formatPoints(earned.points)}</b>
            </li>
          ) : null;
        })}
        {row.open > 0 && <li>{row.open} open</li>}
        {row.typed !== null && row.computed !== null && row.typed !== row.computed && (
          <li className="text-caution">typed over {formatPoints(row.computed)}</li>
        )}
      </ul>
    </div>
  );
}
