import * as z from 'zod';
import type { BecameLine } from '../again/became.ts';
import { formatGrade, formatMost } from '../grade/scale.ts';
import type { Criterion } from '../rubric/rubric.ts';
import { standsWords } from '../rubric/stands-words.ts';
import { levelsOf } from '../rubric/total.ts';
import type { CriterionScore } from '../scores/score.ts';
import { gradeLines } from './grade-lines.ts';
import type { ScoredShape } from './scored.ts';
import type { Snapshot } from './snapshot.ts';

/** A part of the cover sheet of a marked copy. Texts are words with their light form. */
export const CoverPart = z.object({
  /** Empty: none. */
  heading: z.string(),
  /** It is the teacher's own words, and stands in the teacher's hand. */
  hand: z.boolean(),
  lines: z.array(
    z.object({
      text: z.string(),
      /** A number at the right, such as points; empty: none. */
      value: z.string(),
    }),
  ),
});
export type CoverPart = z.infer<typeof CoverPart>;

/** The cover sheet that goes in front of a marked copy's pages. */
export const CoverSheet = z.object({
  title: z.string(),
  /** Whose it is, by whom it was marked and when it went back. */
  under: z.string(),
  parts: z.array(CoverPart),
});
export type CoverSheet = z.infer<typeof CoverSheet>;

const VERDICTS: Readonly<Record<BecameLine['verdict'], string>> = {
  'dealt-with': 'dealt with',
  again: 'still to do',
  'let-go': 'dropped',
};

/**
 * What stands on the cover sheet, in the order a student reads: closing words, what became of the notes before, the rubric with where they stand and
 * what the next level asks for, the question to think about, then the grade and what it comes from. `graded` false: without all that tells a grade.
 */
export function coverSheet(
  snapshot: Snapshot,
  about: { readonly title: string; readonly under: string; readonly graded: boolean },
): CoverSheet {
  const part = (heading: string, lines: CoverPart['lines'], hand = false): CoverPart[] =>
    lines.length ? [{ heading, hand, lines }] : [];
  const { closing, became, scored, reflect } = snapshot;
  return {
    title: about.title,
    under: about.under,
    parts: [
      ...part('', closing ? [line(closing)] : [], true),
      ...part(
        'What became of your notes',
        (became ?? []).map((b) => line(b.words, VERDICTS[b.verdict])),
      ),
      ...(scored?.rubric ? part(scored.rubric.name, rubricLines(scored, about.graded)) : []),
      ...part('To think about', reflect ? [line(reflect)] : []),
      ...gradeOf(snapshot, about.graded),
    ],
  };
}

const line = (text: string, value = ''): CoverPart['lines'][number] => ({ text, value });

function rubricLines({ rubric, rounds }: ScoredShape, graded: boolean): CoverPart['lines'] {
  const last = rounds.at(-1);
  const midway = rounds.length > 1 ? rounds[0]! : null;
  const scoreIn = (round: typeof last | null, c: Criterion) =>
    round?.scores.find((s) => s.criterion === c.id)?.score ?? null;
  return [
    ...(midway?.words ? [line(`Midway: ${midway.words}`)] : []),
    ...rubric!.criteria.flatMap((c) => {
      const score = scoreIn(last, c);
      const before = scoreIn(midway, c);
      if (!score && !before) return [];
      const was = before?.stands ? `*midway: ${standsWords(c, before, graded)}*` : '';
      const said = [was, ...(score ? saidOf(c, score) : [])].filter(Boolean);
      return [line([`**${c.name}**`, ...said].join('\n'), standsWords(c, score, graded))];
    }),
  ];
}

/** What the level reached says, what was said besides, and what the next one asks for. */
function saidOf(criterion: Criterion, score: CriterionScore): string[] {
  const reached = levelsOf(criterion, score);
  const top = reached.at(-1);
  const next = top && criterion.levels[criterion.levels.indexOf(top) + 1];
  return [
    ...reached.map((l) => [l.name, l.descriptor].filter(Boolean).join(': ')),
    score.words,
    next?.descriptor ? `*Next${next.name && ` (${next.name})`}:* ${next.descriptor}` : '',
  ];
}

function gradeOf(snapshot: Snapshot, graded: boolean): CoverPart[] {
  const { most, grade, counts, unfinished } = snapshot;
  const only = (text: string, heading = 'Grade') => [{ heading, hand: false, lines: [line(text)] }];
  if (unfinished) return only('Still to come: the marking is not finished.', most === null ? '' : 'Grade');
  if (most === null) return [];
  if (!graded) return only('Shown in Jotmark when all notes have been opened.');
  const scale = snapshot.scored?.scale ?? { kind: 'points' as const };
  const say = (value: number) => `${formatGrade(value, most, scale)} ${formatMost(most, scale)}`.trim();
  const sum = gradeLines(snapshot);
  return [
    {
      heading: sum.length ? 'How the grade came to be' : '',
      hand: false,
      lines: [
        ...sum.map((l) => line(l.sum ? `**${l.label}**` : l.label, l.value)),
        line('**Grade**', grade === null ? 'none' : say(grade)),
        ...(counts === undefined
          ? []
          : [line(`An earlier hand-in counts, since it was better: ${say(counts)}.`)]),
      ],
    },
  ];
}
