import type { MarkBook } from '../contract/book-routes.ts';
import type { PileScores } from '../contract/score-shapes.ts';
import type { FeedbackLog } from '../log/entry.ts';
import { bookTotal } from '../mark-book/total.ts';
import { registerName } from '../pile/blind.ts';
import { formatPoints } from '../points/points.ts';
import { standsWords } from '../rubric/stands-words.ts';
import { criterionScore, type Score, type ScoreOf } from '../scores/score.ts';
import { plainWords } from '../words/words.ts';
import { asNumber, type GridCell, type OutGrid } from './grid.ts';

/** Grades of a class: a line a student, a column a piece of work, what it comes to at the end. Held grades are told from handed-back ones in a second sheet. */
export function markBookGrids(book: MarkBook): OutGrid[] {
  const cells = new Map(book.cells.map((c) => [`${c.personId}/${c.assignmentId}`, c]));
  const of = (person: string, work: string) => cells.get(`${person}/${work}`);
  const titles = book.columns.map((c) => `${c.title}${c.most === null ? '' : ` / ${formatPoints(c.most)}`}`);
  const each = (row: (person: MarkBook['students'][number]) => GridCell[]) => book.students.map(row);
  return [
    {
      name: 'Grades',
      head: ['Student', ...titles, 'So far, %'],
      rows: each((s) => [
        registerName(s),
        ...book.columns.map((c) => {
          const cell = of(s.id, c.id);
          if (!cell) return null;
          return cell.grade === null && cell.excused ? 'excused' : asNumber(cell.grade);
        }),
        asNumber(
          bookTotal(
            book.columns.flatMap((c) => {
              const cell = of(s.id, c.id);
              return cell ? [{ ...cell, category: c.category, most: c.most }] : [];
            }),
            book.rule,
          ).percent,
        ),
      ]),
    },
    {
      name: 'Where copies are',
      head: ['Student', ...book.columns.map((c) => c.title)],
      rows: each((s) => [
        registerName(s),
        ...book.columns.map((c) => {
          const cell = of(s.id, c.id);
          return cell ? (cell.missing ? 'missing' : cell.excused ? 'excused' : cell.place) : null;
        }),
      ]),
    },
    {
      name: 'Work',
      head: ['Title', 'Kind of work', 'Unit', 'Out of', 'Date'],
      rows: book.columns.map((c) => [
        c.title,
        c.category,
        c.unit,
        asNumber(c.most),
        new Date(c.at).toISOString(),
      ]),
    },
  ];
}

/** Scores of a pile: the grade, and one column a question and a criterion. Of a blind pile codes stand for names. */
export function scoresGrid(scores: PileScores): OutGrid {
  const { asked, rubric } = scores.scoring;
  const criteria = rubric?.rubric.criteria ?? [];
  const numbers = scores.scoring.most !== null;
  return {
    name: 'Scores',
    head: [
      'Student',
      'Status',
      'Grade',
      'Out of',
      'Computed',
      ...asked.map(
        (q) =>
          `Question ${q.label}${q.name && `: ${q.name}`}${q.most === null ? '' : ` / ${formatPoints(q.most)}`}`,
      ),
      ...criteria.map((c) => c.name),
    ],
    rows: scores.rows.map((row) => {
      const given = new Map<ScoreOf, Score>(row.scores.map((s) => [s.of, s.score]));
      return [
        registerName(row.student),
        row.place,
        asNumber(row.grade),
        asNumber(scores.scoring.most),
        asNumber(row.computed),
        ...asked.map((q) => asNumber(row.points.find((p) => p.question === q.id)?.points ?? null)),
        ...criteria.map((c) => standsWords(c, criterionScore(given, 'final', c.id), numbers) || null),
      ];
    }),
  };
}

/** What students were told: a line an entry, and a line a note in a second sheet. */
export function logGrids(logs: readonly FeedbackLog[]): OutGrid[] {
  const each = <T>(of: (log: FeedbackLog, name: string) => T[]): T[] =>
    logs.flatMap((log) => of(log, registerName(log.student)));
  const day = (at: number) => new Date(at).toISOString();
  return [
    {
      name: 'Feedback',
      head: [
        'Student',
        'Date',
        'What',
        'Title',
        'Kind of work',
        'Unit or strand',
        'Grade',
        'Out of',
        'Levels',
        'Words',
        'Notes',
        'Dealt with',
        'Answer',
      ],
      rows: each((log, name) =>
        log.entries.map((e): GridCell[] =>
          e.of === 'work'
            ? [
                name,
                day(e.at),
                e.held ? 'held' : e.handIn > 1 ? `hand-in ${e.handIn}` : 'handed back',
                e.title,
                e.category,
                e.unit,
                asNumber(e.grade),
                asNumber(e.most),
                e.levels.map((l) => `${l.criterion}: ${l.stands}`).join('; '),
                plainWords(e.closing),
                e.notes.length,
                e.notes.filter((n) => n.done).length,
                e.reflected,
              ]
            : [
                name,
                day(e.at),
                'remark',
                '',
                e.work,
                e.strand,
                null,
                null,
                '',
                plainWords(e.words),
                null,
                null,
                e.answers.map((a) => a.words).join(' | '),
              ],
        ),
      ),
    },
    {
      name: 'Notes',
      head: ['Student', 'Date', 'Title', 'Focus', 'Words', 'What became of it', 'Answer'],
      rows: each((log, name) =>
        log.entries.flatMap((e): GridCell[][] =>
          e.of === 'work'
            ? e.notes.map((n) => [name, day(e.at), e.title, n.focus ?? '', n.words, n.act ?? '', n.answer])
            : [],
        ),
      ),
    },
  ];
}
