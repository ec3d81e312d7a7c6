import {
  type AssignmentId,
  type CopyId,
  formatGrade,
  formatPoints,
  outliersOf,
  type PileScores,
  plainWords,
  type ScoreRow,
} from '@jotmark/core';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { plural } from '../time/words.ts';
import { nameOf } from './figures.ts';

/** So many things of a kind are told. */
const MOST = 8;

interface Said {
  readonly key: string;
  readonly words: string;
  readonly across: string | null;
  readonly parts: readonly { readonly points: number; readonly copies: readonly CopyId[] }[];
}

/** What earned different points though it is the same, and copies that stand apart. */
export function Differently({
  scores,
  assignmentId,
  onLook,
}: {
  scores: PileScores;
  assignmentId: AssignmentId;
  onLook(copyId: CopyId): void;
}) {
  const rows = useMemo(() => new Map(scores.rows.map((r) => [r.copyId, r])), [scores.rows]);
  const said = useMemo(() => saidIn(scores, assignmentId), [scores, assignmentId]);
  const graded = scores.rows.filter((r) => r.grade !== null);
  const apart = outliersOf(graded, (r) => r.grade!);
  const over = graded.filter((r) => r.typed !== null && r.computed !== null && r.typed !== r.computed);
  const { most, scoring } = scores.scoring;
  const say = (v: number) => formatGrade(v, most ?? v, scoring.scale);
  const look = (row: ScoreRow) => (
    <button
      key={row.copyId}
      type="button"
      className="mr-2 font-semibold hover:text-action hover:underline"
      onClick={() => onLook(row.copyId)}
    >
      {nameOf(row)}
    </button>
  );
  const nothing = said.length + apart.length + over.length === 0;
  return (
    <section
      className="min-w-72 flex-[2] rounded-lg bg-raised p-4 shadow-sm"
      aria-label="The same, scored differently"
    >
      <h2 className="font-bold">The same, scored differently</h2>
      {nothing && (
        <p className="mt-2 text-soft">
          Nothing was found that earned different points though it is the same.
        </p>
      )}
      <ul className="mt-1 max-h-[19rem] overflow-auto">
        {said.map((s) => (
          <li key={s.key} className="border-t border-dashed border-line py-2">
            <p className="line-clamp-2 text-[15px]">{s.words}</p>
            <p className="flex flex-wrap gap-x-4 text-[13px]">
              {s.parts.map((p) => (
                <span key={p.points}>
                  <b className="tabular">
                    {p.points < 0 ? `−${formatPoints(-p.points)}` : formatPoints(p.points)}
                  </b>
                  :{' '}
                  {p.copies.length <= 3
                    ? p.copies.flatMap((id) => rows.get(id) ?? []).map(look)
                    : plural(p.copies.length, 'copy', 'copies')}
                </span>
              ))}
              {s.across && (
                <Link className="ml-auto text-action hover:underline" to={s.across}>
                  Compare these
                </Link>
              )}
            </p>
          </li>
        ))}
        {over.length > 0 && (
          <li className="border-t border-dashed border-line py-2 text-sm">
            Typed over what was computed:{' '}
            {over.slice(0, MOST).map((r) => (
              <span key={r.copyId}>
                {look(r)}
                <span className="mr-2 text-soft">
                  {say(r.typed!)} over {say(r.computed!)}
                </span>
              </span>
            ))}
          </li>
        )}
        {apart.length > 0 && (
          <li className="border-t border-dashed border-line py-2 text-sm">
            Far from all others: {apart.slice(0, MOST).map(look)}
          </li>
        )}
      </ul>
    </section>
  );
}

const saidIn = (scores: PileScores, assignmentId: AssignmentId): Said[] =>
  [
    ...scores.phrases.map(({ words, parts }) => ({
      key: `phrase ${words}`,
      words: `“${plainWords(words)}”`,
      across: null,
      parts,
    })),
    ...scores.sameAnswers.map(({ question, answer, parts }) => ({
      key: `answer ${question} ${answer}`,
      words: `Question ${scores.scoring.asked.find((q) => q.id === question)?.label ?? '?'}: ${answer}`,
      across: `/piles/${assignmentId}/across/${question}`,
      parts,
    })),
  ].slice(0, MOST * 2);
