import * as z from 'zod';
import { formatGrade, formatMost } from '../grade/scale.ts';
import type { CoverPart, CoverSheet } from '../handback/cover-sheet.ts';
import { clockOf } from '../voice/recording.ts';
import { plainWords } from '../words/words.ts';
import { comesAgain, doneWith } from './again.ts';
import type { FeedbackLog, LogBack, LogEntry, LogNote, LogRemark } from './entry.ts';

/** What a log on paper can hold. */
export const LogPart = z.enum(['grades', 'words', 'notes', 'done', 'remarks', 'summary', 'report']);
export type LogPart = z.infer<typeof LogPart>;
export const LOG_PART_NAMES: Readonly<Record<LogPart, string>> = {
  summary: 'What comes again, and what was done with it',
  grades: 'Grades and levels',
  words: 'Closing words',
  notes: 'Notes',
  done: 'What became of the notes',
  remarks: 'Remarks and answers',
  report: 'Report',
};
export const TALK_PARTS: readonly LogPart[] = ['summary', 'grades', 'words', 'done', 'remarks'];

const line = (text: string, value = ''): CoverPart['lines'][number] => ({ text, value });
const part = (heading: string, lines: CoverPart['lines'], hand = false): CoverPart[] =>
  lines.length ? [{ heading, hand, lines }] : [];

/** "6 / 8"; "" where there is no grade. */
export function logGrade(entry: Pick<LogBack, 'grade' | 'most' | 'scale'>): string {
  if (entry.grade === null || entry.most === null) return '';
  return `${formatGrade(entry.grade, entry.most, entry.scale)} ${formatMost(entry.most, entry.scale)}`.trim();
}

const days = (n: number): string => {
  const rounded = Math.round(n * 10) / 10;
  return rounded < 0.1 ? 'within hours' : `in ${rounded} ${rounded === 1 ? 'day' : 'days'} on average`;
};

/** What was done with all notes, in sentences. */
export function doneWords(entries: readonly LogEntry[]): string[] {
  const { notes, done, days: after, suggestions } = doneWith(entries);
  if (notes === 0) return ['No notes yet.'];
  return [
    `${done} of ${notes} ${notes === 1 ? 'note' : 'notes'} dealt with${after === null ? '' : `, ${days(after)}`}.`,
    ...(suggestions.all
      ? [
          `${suggestions.all} ${suggestions.all === 1 ? 'suggestion' : 'suggestions'}: ${suggestions.taken} accepted, ${suggestions.declined} declined.`,
        ]
      : []),
  ];
}

/** What came again, in a sentence each. `day` says a date. */
export const againWords = (entries: readonly LogEntry[], day: (at: number) => string): string[] =>
  comesAgain(entries).map(
    (c) =>
      `${c.what === 'focus' ? c.words : `“${plainWords(c.words)}”`}: ${c.times} times in ${c.works} pieces of work${
        c.stopped ? `, not since ${day(c.lastAt)}` : c.open ? `, ${c.open} still open` : ''
      }`,
  );

const noteLine = (n: LogNote, done: boolean): string =>
  [
    `• ${n.words || 'a voice note'}${n.focus ? ` (${n.focus})` : ''}`,
    ...(done ? [n.act ? ` – ${n.act}` : '', n.answer ? `: “${n.answer}”` : ''] : []),
  ].join('');

function workPart(entry: LogBack, has: ReadonlySet<LogPart>, day: (at: number) => string): CoverPart[] {
  const { notes } = entry;
  const dealt = notes.filter((n) => n.done).length;
  const lines = [
    ...(has.has('grades') && entry.levels.length
      ? [line(entry.levels.map((l) => `${l.criterion}: ${l.stands}`).join(' · '))]
      : []),
    ...(has.has('words') && entry.voice ? [line(`A recording of ${clockOf(entry.voice.ms)}`)] : []),
    ...(has.has('notes') ? notes.map((n) => line(noteLine(n, has.has('done')))) : []),
    ...(has.has('done') && notes.length ? [line(`${dealt} of ${notes.length} notes dealt with`)] : []),
    ...(has.has('done') && entry.reflected ? [line(`To think about: “${entry.reflected}”`)] : []),
  ];
  const again = entry.handIn > 1 ? `, hand-in ${entry.handIn}` : '';
  const heading = `${day(entry.at)}  ${entry.title}${again}`;
  const grade = has.has('grades') ? logGrade(entry) : '';
  const head = part(heading, [...(grade ? [line('Grade', grade)] : []), ...lines]);
  const words =
    has.has('words') && entry.closing ? part(head.length ? '' : heading, [line(entry.closing)], true) : [];
  return [...head, ...words];
}

function remarkPart(entry: LogRemark, day: (at: number) => string): CoverPart[] {
  const about = [entry.work, entry.strand].filter(Boolean).join(', ');
  return [
    ...part(`${day(entry.at)}  Remark${about && ` (${about})`}`, [line(entry.words)], true),
    ...part(
      '',
      entry.answers.map((a) => line(`${a.by}: ${a.quote && `“${a.quote}” – `}${a.words}`)),
    ),
  ];
}

/**
 * A log on paper, for a talk with the family: only what went back, and of it only the parts that were chosen. `report` is the text of a term; empty: none.
 */
export function logSheet(
  log: FeedbackLog,
  about: {
    readonly parts: readonly LogPart[];
    readonly day: (at: number) => string;
    readonly under: string;
    readonly report: string;
  },
): CoverSheet {
  const has = new Set(about.parts);
  const entries = log.entries.filter((e) => e.of === 'remark' || !e.held);
  const { given, family } = log.student;
  return {
    title: `${given} ${family}`.trim(),
    under: about.under,
    parts: [
      ...(has.has('report') && about.report ? part('Report', [line(about.report)]) : []),
      ...(has.has('summary')
        ? part(
            'In short',
            [...doneWords(entries), ...againWords(entries, about.day)].map((t) => line(t)),
          )
        : []),
      ...entries.flatMap((e) =>
        e.of === 'work' ? workPart(e, has, about.day) : has.has('remarks') ? remarkPart(e, about.day) : [],
      ),
    ],
  };
}
