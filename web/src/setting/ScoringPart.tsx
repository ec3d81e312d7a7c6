import { type AssignmentSheet, formatPoints, type ScoringShape } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { onDemand } from '../frame/on-demand.tsx';

const ScoringDialog = onDemand(() => import('./ScoringDialog.tsx').then((m) => m.ScoringDialog));

/** How the work is scored, in a few lines, and the way to change it. */
export function ScoringPart({
  sheet,
  before,
  onMost,
}: {
  sheet: AssignmentSheet;
  /** What must be kept before it is changed. */
  before(): Promise<void>;
  onMost(most: number | null): void;
}) {
  const scoring = useQuery({
    queryKey: keys.scoring(sheet.id),
    queryFn: () => call('scoring', { params: { assignmentId: sheet.id } }),
    refetchOnWindowFocus: false,
  });
  const [open, setOpen] = useState(false);
  const shape = scoring.data;
  return (
    <section className="rounded-lg bg-raised p-4 shadow-sm" aria-label="Scoring">
      <h2 className="font-bold">Scoring</h2>
      {scoring.error ? (
        <p role="alert" className="mt-1 text-sm text-caution">
          {sentenceOf(scoring.error)}
        </p>
      ) : !shape ? (
        <p className="mt-1 text-sm text-soft">…</p>
      ) : (
        <>
          <ul className="mt-1 text-sm text-soft">
            {linesOf(shape).map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          {shape.rubric && (
            <p className="mt-1 text-sm">
              <Link className="text-action hover:underline" to={`/rubrics/${shape.rubric.id}`}>
                {shape.rubric.name}
              </Link>
              {shape.rubric.newest !== shape.rubric.versionId && (
                <span className="text-caution"> · there is a newer version</span>
              )}
            </p>
          )}
          <button
            type="button"
            className="quiet mt-3"
            onClick={() => {
              before().then(
                () => setOpen(true),
                () => {},
              );
            }}
          >
            Rubric, grade, scale …
          </button>
          {open && (
            <ScoringDialog
              assignmentId={sheet.id}
              shape={{ ...shape, most: sheet.words.most }}
              onClose={() => setOpen(false)}
              onMost={onMost}
            />
          )}
        </>
      )}
    </section>
  );
}

const BY = {
  hand: 'The grade is typed.',
  tally: 'The grade comes from the points of the questions.',
  rubric: 'The grade comes from the rubric.',
  both: 'The grade comes from questions and rubric.',
} as const;

const SCALES = {
  points: 'Written as points.',
  percent: 'Written in percent.',
  table: 'Written as letters or words of a table.',
  done: 'Written as done or not yet.',
} as const;

function linesOf({ scoring, most, asked, rubric }: ScoringShape): string[] {
  if (most === null)
    return [
      'Ungraded: it has no number anywhere.',
      ...(rubric ? ['The rubric tells where somebody stands.'] : []),
    ];
  const named = asked.length;
  return [
    `${formatPoints(most)} points${named ? `, ${named} questions` : ''}.`,
    BY[scoring.by],
    ...(scoring.scale.kind === 'points' ? [] : [SCALES[scoring.scale.kind]]),
    ...(scoring.late ? ['Being late costs something.'] : []),
    ...(scoring.again === 'better' ? ['Of several hand-ins the better one counts.'] : []),
  ];
}
