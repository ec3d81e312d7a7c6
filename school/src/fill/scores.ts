import {
  type AnswerKey,
  type AssignmentId,
  byKey,
  type ChangeId,
  type ClassId,
  type CopyId,
  type CriterionScore,
  type DocumentId,
  type HandInId,
  type Mark,
  type MarkId,
  MarkingChange,
  type NoteMark,
  type Person,
  type PersonId,
  plainScoring,
  type QuestionId,
  type Rubric,
  type RubricVersionId,
  type Score,
  type ScoreOf,
  type Scoring,
  scoreOfCriterion,
  scoreOfQuestion,
} from '@jotmark/core';
import {
  addWorksheet,
  HandInDocumentTable,
  handIn,
  makeRubric,
  newId,
  readRubricOf,
  releaseMidway,
  saveKey,
  setAssignment,
  setScoring,
  takeChanges,
  takeCopyChanges,
} from '@jotmark/server';
import { answerOf } from '../answers/answers.ts';
import { distancesOnTheIsland } from '../worksheet/worksheets.ts';
import { aShortTalk, tellingAWalk } from './rubrics.ts';
import { keepWorksheet, type Setting } from './setting.ts';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;

export const RAIN: AnswerKey = { of: 'number', value: '21', tolerance: '0', unit: 'mm' };

/** What answers on distances should be. */
const KEYS: Readonly<Record<string, AnswerKey>> = {
  '1': { of: 'number', value: '1500', tolerance: '0', unit: 'm' },
  '2': { of: 'number', value: '1.7', tolerance: '0.1', unit: 'km' },
  '3': { of: 'wordings', accepted: ['Tarn Hut', 'the Tarn Hut'] },
};

type Changes = MarkingChange[];
export const checked = (changes: readonly unknown[]): Changes => changes.map((c) => MarkingChange.parse(c));

const score = (s: Setting, of: ScoreOf, value: Score) => ({
  id: newId<ChangeId>(s.house),
  base: null,
  type: 'score',
  of,
  value,
  was: null,
});
export const write = (s: Setting, field: string, value: unknown, was: unknown) => ({
  id: newId<ChangeId>(s.house),
  base: null,
  type: 'write',
  field,
  value,
  was,
});

/** Hangs a rubric on work, and says what it counts for. */
async function hang(
  s: Setting,
  assignmentId: AssignmentId,
  name: string,
  rubric: Rubric,
  about: { most: number | null; scoring: Partial<Scoring> },
): Promise<void> {
  const made = await readRubricOf(s.house, s.teacher, await makeRubric(s.house, s.teacher, name, rubric));
  const rubricVersionId: RubricVersionId = made.versionId;
  const scoring = { ...plainScoring(false), ...about.scoring };
  await setScoring(
    s.house,
    s.teacher,
    assignmentId,
    { scoring, rubricVersionId, most: about.most, news: null },
    true,
  );
}

const standsAt = (
  s: Setting,
  rubric: Rubric,
  criterion: number,
  level: number,
  words = '',
): CriterionScore => {
  const { levels } = rubric.criteria[criterion]!;
  const whole = Math.floor(level);
  return {
    of: 'criterion',
    stands:
      whole === level
        ? { is: 'level', level: levels[whole - 1]!.id }
        : { is: 'between', lower: levels[whole - 1]!.id, upper: levels[whole]!.id },
    words,
    had: [],
    at: s.house.now(),
  };
};

/** Three minutes before the class: nothing comes in, and four of them have spoken. */
export async function talks(
  s: Setting,
  classId: ClassId,
  students: readonly Person[],
  at: number,
): Promise<{ id: AssignmentId; marked: CopyId[] }> {
  s.house.setClock(at - 5 * 24 * HOUR);
  const set = await setAssignment(s.house, {
    classId,
    title: 'Three minutes on the weather',
    instructions: 'Tell us about one kind of weather. Nothing to hand in: we listen.',
    dueAt: at,
    most: 1600,
    category: 'classwork',
    handsIn: false,
  });
  const rubric = aShortTalk(s.chance, s.house.now());
  await hang(s, set.id, 'A short talk', rubric, { most: 1600, scoring: { by: 'rubric' } });
  const said: readonly (readonly [who: number, closing: string, ...levels: number[]])[] = [
    [0, 'We saw the fog come in. Look up sooner next time.', 3, 4, 3, 4],
    [1, 'You know more than you said: leave the sheet at home.', 2, 3.5, 2, 3],
    [3, 'Clear and short. Now explain one thing more.', 3, 2, 2.5, 4],
    [6, 'I wanted to ask you ten questions. Thank you.', 4, 4, 3, 2],
  ];
  const marked: CopyId[] = [];
  for (const [i, [who, closing, ...levels]] of said.entries()) {
    s.house.setClock(at - 2 * HOUR + i * 6 * MINUTE);
    const copyId = set.copies.get(students[who]!.id)!;
    const changes = levels.map((level, c) =>
      score(
        s,
        scoreOfCriterion('final', rubric.criteria[c]!.id),
        standsAt(s, rubric, c, level, c === 1 && level > 3 ? 'Wind from the sea, and why.' : ''),
      ),
    );
    const end = [write(s, 'closing', closing, ''), ...(i < 3 ? [write(s, 'done', true, false)] : [])];
    await takeChanges(s.house, s.teacher, { copyId }, checked([...changes, ...end]));
    if (i < 3) marked.push(copyId);
  }
  return { id: set.id, marked };
}

/** The shore walk is looked over while it is still worked on: one midway round is released, another is begun. */
export async function midwayOn(
  s: Setting,
  walk: { readonly id: AssignmentId; readonly copies: Map<PersonId, CopyId> },
  students: readonly Person[],
): Promise<void> {
  const rubric = tellingAWalk(s.chance, s.house.now());
  await hang(s, walk.id, 'Telling a walk', rubric, { most: null, scoring: {} });
  const look = async (who: number, words: string, levels: readonly number[]): Promise<CopyId> => {
    const copyId = walk.copies.get(students[who]!.id)!;
    const changes = levels.map((level, c) =>
      score(s, scoreOfCriterion('midway', rubric.criteria[c]!.id), standsAt(s, rubric, c, level)),
    );
    await takeChanges(s.house, s.teacher, { copyId }, checked([...changes, write(s, 'midway', words, '')]));
    return copyId;
  };
  const released = await look(1, 'One can follow you. Now let the map help you tell it.', [3, 2, 2, 3]);
  await releaseMidway(s.house, s.teacher, walk.id, [released]);
  await look(4, 'The cliff is the best of it: begin there.', [2, 3.5]);
}

interface Drifting extends Setting {
  readonly colleague: Person;
}

/** A pile that is all marked and not handed back, and whose marking grew stricter from copy to copy. */
export async function drifting(
  s: Drifting,
  classId: ClassId,
  students: readonly Person[],
  strength: ReadonlyMap<PersonId, number>,
  evening: (daysAgo: number) => number,
  used: (handInId: HandInId, marks: readonly Mark[]) => Promise<void>,
): Promise<void> {
  const { house, teacher } = s;
  house.setClock(evening(8));
  const sheet = await distancesOnTheIsland();
  const kept = await keepWorksheet(s, sheet);
  const label = (q: QuestionId) => sheet.places[kept.questions.findIndex((k) => k.id === q)]!.question;
  for (const q of kept.questions) {
    const key = KEYS[label(q.id)];
    if (key) await saveKey(house, kept.id, q.id, key);
  }
  const about = {
    classId,
    title: sheet.title,
    instructions: sheet.instructions,
    dueAt: evening(4),
    most: sheet.points * 100,
    category: 'classwork',
  };
  const set = await setAssignment(house, about, (id) => addWorksheet(house, id, kept.id));
  const who = students.filter((_, i) => i % 7 !== 5);
  const copies = [];
  for (const student of who) {
    const copyId = set.copies.get(student.id)!;
    house.setClock(evening(5) + s.chance.between(0, 20 * HOUR));
    const answers = kept.questions.map((q) => ({
      question: q.id,
      // Those who came are all rather strong here, so that what differs is the marking.
      ...answerOf(s.chance, sheet.title, label(q.id), Math.max(0.8, strength.get(student.id)!)),
    }));
    await takeCopyChanges(
      house,
      copyId,
      answers.map(({ question, text }) => ({
        id: newId<ChangeId>(house),
        base: null,
        type: 'answer',
        question,
        value: text,
        was: '',
      })),
    );
    const handInId = await handIn(house, student, copyId, { id: newId(house), cover: '', claimedAt: null });
    copies.push({ handInId, answers });
  }
  house.setClock(evening(2));
  for (const [i, copy] of copies.entries()) {
    const marks = await scoreOne(s, kept.questions, copy, i / copies.length, label, i);
    await used(copy.handInId, marks);
    house.setClock(house.now() + s.chance.between(2 * MINUTE, 5 * MINUTE));
    await takeChanges(house, teacher, { handInId: copy.handInId }, checked([write(s, 'done', true, false)]));
    // The colleague has looked at some of them, without seeing the grades.
    if (i % 3 === 1) {
      const fair = copy.answers.reduce((sum, a) => sum + a.points, 0);
      const grade = Math.max(0, Math.min(800, Math.round(fair / 50) * 50 - (i % 2) * 50));
      const second = write(s, 'second', { by: s.colleague.id, grade }, null);
      await takeChanges(house, s.colleague, { handInId: copy.handInId }, checked([second]));
    }
  }
}

/** One copy of it: what has a key by the key, the long answer by a note with points, half a point less at the end of the pile than at its beginning. */
async function scoreOne(
  s: Drifting,
  questions: readonly { readonly id: QuestionId; readonly page: number; readonly box: readonly number[] }[],
  copy: {
    readonly handInId: HandInId;
    readonly answers: readonly {
      readonly question: QuestionId;
      readonly text: string;
      readonly points: number;
    }[];
  },
  progress: number,
  label: (q: QuestionId) => string,
  i: number,
): Promise<Mark[]> {
  const [first] = await s.house.db.manager
    .getRepository(HandInDocumentTable)
    .find({ where: { handInId: copy.handInId }, order: { position: 'ASC' }, take: 1 });
  const changes: unknown[] = [];
  const marks: Mark[] = [];
  for (const [n, { question, text, points }] of copy.answers.entries()) {
    const key = KEYS[label(question)];
    const { page, box } = questions[n]!;
    if (key) {
      const most = label(question) === '2' ? 200 : 100;
      const offered = byKey(key, text, most).offers;
      const strict = label(question) === '2' && points === 50 && progress > 0.5 ? 0 : points;
      changes.push(score(s, scoreOfQuestion(question), { of: 'question', points: offered ?? strict }));
      continue;
    }
    const stricter = Math.round((progress * 350) / 50) * 50;
    marks.push({
      v: 2,
      id: newId<MarkId>(s.house),
      document: first!.documentId as DocumentId,
      page,
      colour: points >= 300 ? 'moss' : 'amber',
      focus: points >= 300 ? 'well put' : 'method',
      madeAt: s.house.now(),
      kind: 'note',
      words: points >= 300 ? 'I could walk by this.' : 'You say that it is so. What on the map shows it?',
      points: Math.max(0, points - stricter),
      place: { on: 'spot', x: box[2]! - 60, y: box[1]! + 12 },
    } satisfies NoteMark);
  }
  for (const mark of marks)
    changes.push({ id: newId<ChangeId>(s.house), base: null, type: 'put', mark, was: null });
  // One was given by feeling, far from what its questions come to.
  if (i === 13) changes.push(write(s, 'grade', 250, null));
  await takeChanges(s.house, s.teacher, { handInId: copy.handInId }, checked(changes));
  return marks;
}
