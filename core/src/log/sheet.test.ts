import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { Snapshot } from '../handback/snapshot.ts';
import type {
  AssignmentId,
  ClassId,
  CopyId,
  DocumentId,
  MarkId,
  PersonId,
  RemarkAnswerId,
  RemarkId,
} from '../ids/id.ts';
import type { Mark } from '../marks/mark.ts';
import { type FeedbackLog, type LogBack, type LogEntry, type SaidBack, tellBack } from './entry.ts';
import { LogPart, logGrade, logSheet, TALK_PARTS } from './sheet.ts';

const note = (n: number, words: string, more: object = {}): Mark =>
  ({
    v: 2,
    id: testId<MarkId>(n),
    document: testId<DocumentId>(1),
    page: 0,
    colour: 'garnet',
    focus: null,
    madeAt: n,
    kind: 'note',
    place: { on: 'spot', x: 10, y: 20 },
    words,
    ...more,
  }) as Mark;
const snapshot = (more: Partial<Snapshot> = {}): Snapshot => ({
  v: 1,
  marks: [],
  grade: 650,
  most: 1000,
  closing: 'Well read.',
  markedBy: 'Ms Quill',
  turns: {},
  ...more,
});
const said = (mark: number | null, more: Partial<SaidBack>): SaidBack => ({
  at: 1,
  mark: mark === null ? null : testId<MarkId>(mark),
  act: null,
  typed: false,
  words: '',
  byStudent: true,
  ...more,
});

describe('what a hand-back tells the log', () => {
  const marks = [
    note(1, '**Give** the unit.', { focus: 'method' }),
    note(2, '', {
      kind: 'swap',
      words: 'metres',
      place: { on: 'passage', bands: [[0, 0, 9, 9]], quote: { exact: 'steps' } },
    }),
    note(3, 'Only ink', { kind: 'ink', points: [0, 0, 1], width: 1 }),
  ];

  test('its notes without their form, what a suggestion proposes, and nothing of ink', () => {
    const told = tellBack(snapshot({ marks }), []);
    expect(told.notes.map((n) => [n.words, n.suggestion, n.focus, n.done])).toEqual([
      ['Give the unit.', false, 'method', false],
      ['“steps” → “metres”', true, null, false],
    ]);
    expect(told).toMatchObject({ grade: 650, most: 1000, closing: 'Well read.', levels: [], reflected: '' });
  });

  test('the last act counts: accepted where it changed nothing is not done, opened again is not done', () => {
    const done = (...all: SaidBack[]) => tellBack(snapshot({ marks }), all).notes.map((n) => n.done);
    expect(done(said(1, { act: 'sorted' }))).toEqual([true, false]);
    expect(done(said(1, { act: 'sorted' }), said(1, { act: 'reopened', byStudent: false }))).toEqual([
      false,
      false,
    ]);
    expect(done(said(2, { act: 'accepted' }))).toEqual([false, false]);
    expect(done(said(2, { act: 'accepted', typed: true }))).toEqual([false, true]);
    expect(done(said(2, { act: 'declined', words: 'I paced it.' }))).toEqual([false, true]);
  });

  test('the newest answer of the student stands beside its note; a teacher’s is none; so is what was thought about', () => {
    const told = tellBack(snapshot({ marks }), [
      said(1, { words: 'In metres?' }),
      said(1, { words: 'Yes.', byStudent: false }),
      said(null, { act: 'reflected', words: 'I look at the key first.' }),
    ]);
    expect(told.notes[0]!.answer).toBe('In metres?');
    expect(told.reflected).toBe('I look at the key first.');
  });
});

describe('a log on paper', () => {
  const work = (more: Partial<LogBack> = {}): LogBack => ({
    of: 'work',
    at: 86_400_000,
    assignmentId: testId<AssignmentId>(1),
    copyId: testId<CopyId>(1),
    title: 'Map',
    category: '',
    unit: '',
    handIn: 1,
    held: false,
    ...tellBack(snapshot({ marks: [note(1, 'Give the unit.')] }), [
      said(1, { act: 'sorted', words: 'In km.', at: 2 * 86_400_000 }),
    ]),
    ...more,
  });
  const remark: LogEntry = {
    of: 'remark',
    id: testId<RemarkId>(1),
    at: 3 * 86_400_000,
    by: 'Ms Quill',
    mine: true,
    words: 'Helped Ben.',
    work: 'class talk',
    strand: 'helping',
    answers: [
      { id: testId<RemarkAnswerId>(1), by: 'Ada', mine: false, at: 1, words: 'Thank you.', quote: 'Helped' },
    ],
  };
  const log = (entries: LogEntry[]): FeedbackLog => ({
    classId: testId<ClassId>(1),
    className: '7K',
    student: { id: testId<PersonId>(1), given: 'Ada', family: 'Stone' },
    entries,
  });
  const sheet = (entries: LogEntry[], parts: readonly LogPart[], report = '') =>
    logSheet(log(entries), { parts, day: (at) => `day ${at / 86_400_000}`, under: '7K', report });

  test('everything there is, in order: report, in short, then each piece of work and remark', () => {
    const { title, parts } = sheet([work(), remark], LogPart.options, 'Reads maps.');
    expect(title).toBe('Ada Stone');
    expect(
      parts.map((p) => [p.heading, p.hand, p.lines.map((l) => `${l.text}${l.value && ` = ${l.value}`}`)]),
    ).toEqual([
      ['Report', false, ['Reads maps.']],
      ['In short', false, ['1 of 1 note dealt with, in 1 day on average.']],
      [
        'day 1  Map',
        false,
        ['Grade = 6½ / 10', '• Give the unit. – sorted: “In km.”', '1 of 1 notes dealt with'],
      ],
      ['', true, ['Well read.']],
      ['day 3  Remark (class talk, helping)', true, ['Helped Ben.']],
      ['', false, ['Ada: “Helped” – Thank you.']],
    ]);
  });

  test('only what was chosen; what is held never', () => {
    expect(sheet([work(), remark], ['words']).parts).toEqual([
      { heading: 'day 1  Map', hand: true, lines: [{ text: 'Well read.', value: '' }] },
    ]);
    expect(JSON.stringify(sheet([work({ held: true, closing: 'SECRET' })], LogPart.options))).not.toContain(
      'SECRET',
    );
    expect(sheet([], TALK_PARTS).parts).toEqual([
      { heading: 'In short', hand: false, lines: [{ text: 'No notes yet.', value: '' }] },
    ]);
  });

  test('a grade in its scale; none where there is none', () => {
    expect(logGrade(work())).toBe('6½ / 10');
    expect(logGrade(work({ grade: null }))).toBe('');
    expect(logGrade(work({ most: null }))).toBe('');
  });
});
