import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  type AssignmentId,
  type CopyId,
  type DocumentId,
  type HandInId,
  type Mark,
  type Person,
  type PersonId,
  PLAIN_HAND_BACK,
  type RichText,
} from '@jotmark/core';
import {
  AssignmentTable,
  addClass,
  addFile,
  addMessage,
  addPerson,
  addWorksheet,
  DEMO_PASSWORD,
  documentPages,
  type House,
  handBack,
  handIn,
  insert,
  MembershipTable,
  newId,
  Opener,
  PersonTable,
  readText,
  saveKey,
  setAssignment,
  setTerms,
  startDraft,
  takeChanges,
  update,
} from '@jotmark/server';
import { type FilledIn, fillIn } from '../answers/fill-in.ts';
import { Chance } from '../chance.ts';
import {
  CLASS_NAME,
  COLLEAGUE,
  loginOf,
  SECOND_CLASS,
  SECOND_STUDENTS,
  STUDENTS,
  TEACHER,
  UNIT,
} from '../people/people.ts';
import {
  findingYourWay,
  signsAndSquares,
  type Worksheet,
  walkToTheLighthouse,
  weatherOnTheIsland,
} from '../worksheet/worksheets.ts';
import { oldNewsIsRead, readAndAgain } from './again.ts';
import { fillBank } from './bank.ts';
import { changesFor, type MarkMaker, marksFor } from './marks.ts';
import { drifting, midwayOn, RAIN, talks } from './scores.ts';
import { fieldWalk, keepWorksheet, LIGHTHOUSE_WORDS, type Setting, workOn } from './setting.ts';
import { recorded, talkedThrough, withFirstSpoken } from './voices.ts';
import { someWords } from './words.ts';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
const SEED = 7_2026;

const CLOSING = {
  high: [
    'You read the map well. Next time help somebody else to read theirs.',
    'Clear and careful all the way. Thank you for showing your working.',
  ],
  middle: [
    'You are on the right path. Read my notes, then measure once more.',
    'Good thinking, now be exact: numbers first, words after.',
  ],
  low: [
    'Come and see me on Tuesday, we will read this map together.',
    'Do not give up: question 1 is the key to the others.',
  ],
};

/** A house whose clock the school sets, so that things happened when they happened. */
interface SchoolHouse extends House {
  setClock(to: number): void;
}

function withClock(house: House): SchoolHouse {
  let at = house.now();
  return {
    db: house.db,
    batches: house.batches,
    settings: house.settings,
    log: house.log,
    now: () => at++,
    setClock: (to) => {
      // Whole milliseconds, as a real clock gives them.
      at = Math.round(to);
    },
  };
}

/** Whether nobody has an account yet. */
export async function isEmpty(house: House): Promise<boolean> {
  return (await house.db.getRepository(PersonTable).count()) === 0;
}

/**
 * Fills an empty database with class 7K: a worksheet handed back, a pile half marked, one just set. Jobs must be running on
 * the same database. `say` hears how far it is.
 */
export async function fillSchool(running: House, say: (text: string) => void = () => {}): Promise<void> {
  const house = withClock(running);
  const now = running.now();
  const chance = new Chance(SEED);
  const folder = await mkdtemp(join(tmpdir(), 'jotmark-school-'));
  const opener = new Opener();
  try {
    house.setClock(now - 40 * DAY);
    say('people');
    const teacher = await addPerson(house, { role: 'teacher', ...TEACHER, password: DEMO_PASSWORD });
    const students: Person[] = [];
    for (const s of STUDENTS)
      students.push(
        await addPerson(house, { role: 'student', ...s, login: loginOf(s), password: DEMO_PASSWORD }),
      );
    const classId = await addClass(house, {
      name: CLASS_NAME,
      unit: UNIT,
      teachers: [teacher.id],
      students: students.map((s) => s.id),
    });
    const strength = new Map<PersonId, number>(students.map((s) => [s.id, chance.between(0.15, 0.95)]));

    const evening = (daysAgo: number) => Math.floor((now - daysAgo * DAY) / DAY) * DAY + 18 * HOUR;
    const set = async (
      sheet: Worksheet,
      setAt: number,
      dueAt: number,
      instructions: string | RichText = sheet.instructions,
      before: (id: AssignmentId) => Promise<void> = async () => {},
    ) => {
      house.setClock(setAt);
      const about = {
        classId,
        title: sheet.title,
        instructions,
        dueAt,
        most: sheet.points * 100,
        category: 'homework',
      };
      return setAssignment(house, about, before);
    };
    const bring = (
      sheet: Worksheet,
      copies: Map<PersonId, CopyId>,
      who: readonly Person[],
      dueAt: number,
      share: number,
    ) => handInAll({ house, opener, folder, chance, sheet, copies, who, dueAt, share, strength, say });

    const used = await fillBank(house, teacher);
    const first = await signsAndSquares();
    const firstSet = await set(first, now - 24 * DAY, evening(15));
    const firstIn = await bring(
      first,
      firstSet.copies,
      students.filter((_, i) => i % 9 !== 8),
      evening(15),
      0.1,
    );
    await readAll(running, firstIn, say);
    const firstMarked = await markAll({
      house,
      teacher,
      chance,
      sheet: first,
      handedIn: firstIn,
      done: firstIn.length,
      begun: 0,
      startAt: evening(13),
      say,
      used,
    });
    house.setClock(evening(11));
    await handBack(
      house,
      teacher,
      firstSet.id as AssignmentId,
      firstIn.map((h) => h.copyId),
      {
        ...PLAIN_HAND_BACK,
        sentence: 'Read my notes first, then look at the grade.',
        reflect: 'What will you do first next time?',
      },
    );

    const second = await findingYourWay();
    const missing = new Set([8, 20, 25, 27]);
    const secondSet = await set(second, now - 9 * DAY, evening(3));
    const secondIn = await bring(
      second,
      secondSet.copies,
      students.filter((_, i) => !missing.has(i)),
      evening(3),
      0.2,
    );
    await readAll(running, secondIn, say);
    await markAll({
      house,
      teacher,
      chance,
      sheet: second,
      handedIn: secondIn,
      done: 9,
      begun: 1,
      startAt: evening(1),
      say,
      used,
    });

    const setting: Setting = { house, opener, folder, chance, teacher };
    const copiesOf = (set: { copies: Map<PersonId, CopyId> }, n: number) => set.copies.get(students[n]!.id)!;

    // A worksheet with questions, being filled in: some have begun, two have handed in, one is excused, one has more time.
    say('A walk to the lighthouse');
    house.setClock(now - 3 * DAY);
    const third = await walkToTheLighthouse();
    const kept = await keepWorksheet(setting, third);
    const thirdSet = await set(third, now - 2 * DAY, evening(-6), LIGHTHOUSE_WORDS, (id) =>
      addWorksheet(house, id, kept.id),
    );
    for (const [n, share, hours] of [
      [0, 0.4, 3],
      [3, 1, 22],
      [4, 0.6, 20],
      [9, 0.2, 5],
      [12, 0.8, 26],
      [16, 1, 7],
      [21, 0.6, 2],
    ] as const)
      await workOn(
        setting,
        third,
        kept.questions,
        copiesOf(thirdSet, n),
        share,
        now - hours * HOUR,
        hours > 6,
      );
    for (const n of [3, 16])
      await handIn(house, students[n]!, copiesOf(thirdSet, n), {
        id: newId(house),
        cover: n === 3 ? 'I was not sure about the second leg.' : '',
        claimedAt: null,
      });
    await setTerms(house, thirdSet.id, students[19]!.id, { excused: true, dueAt: null });
    await setTerms(house, thirdSet.id, students[23]!.id, { excused: false, dueAt: evening(-9) });
    house.setClock(now - 2 * HOUR);
    await addMessage(house, house.db.manager, {
      copyId: copiesOf(thirdSet, 9),
      by: students[9]!.id,
      words: 'Do I measure along the path or straight?',
      cover: false,
    });

    say('words');
    await someWords({
      house,
      teacher,
      back: firstMarked,
      live: { copyId: copiesOf(thirdSet, 4), document: kept.document, questions: kept.questions },
      at: now - 90 * MINUTE,
    });
    say('read, and handed in again');
    await readAndAgain({
      house,
      opener,
      folder,
      chance,
      sheet: first,
      back: firstIn,
      evening: evening(10),
      now,
    });

    say('My walk along the shore');
    house.setClock(now - 8 * DAY);
    const walk = await fieldWalk(setting, classId, evening(2), students);
    await midwayOn(setting, walk, students);

    // What nobody sees yet, or not everybody.
    say('upcoming work, and a second class');
    house.setClock(now - DAY);
    const fourth = await weatherOnTheIsland();
    const weather = await keepWorksheet(setting, fourth);
    const upcoming = await set(fourth, now - DAY, evening(-12), fourth.instructions, (id) =>
      addWorksheet(house, id, weather.id),
    );
    const db = house.db.manager;
    await update(db, AssignmentTable, { id: upcoming.id }, { opensAt: evening(-3) - 10 * HOUR });
    const draft = await startDraft(house, classId);
    await update(db, AssignmentTable, { id: draft }, { title: 'Reading a tide table' });
    const colleague = await addPerson(house, { role: 'teacher', ...COLLEAGUE, password: DEMO_PASSWORD });
    await insert(db, MembershipTable, {
      classId,
      personId: colleague.id,
      role: 'teacher',
      leftAt: null,
    });
    const others: Person[] = [];
    for (const s of SECOND_STUDENTS)
      others.push(
        await addPerson(house, { role: 'student', ...s, login: loginOf(s), password: DEMO_PASSWORD }),
      );
    const second7 = await addClass(house, {
      ...SECOND_CLASS,
      teachers: [teacher.id],
      students: others.map((s) => s.id),
    });
    house.setClock(now - 4 * DAY);
    const open = await setAssignment(
      house,
      {
        classId: second7,
        title: fourth.title,
        instructions: fourth.instructions,
        dueAt: evening(-2),
        most: fourth.points * 100,
        category: 'classwork',
      },
      (id) => addWorksheet(house, id, weather.id),
    );
    say('what is scored by keys and rubrics');
    await saveKey(house, weather.id, weather.questions[0]!.id, RAIN);
    const colleagues = { ...setting, colleague };
    await drifting(colleagues, classId, students, strength, evening, used);
    await talks(colleagues, second7, others, evening(1));
    await setAssignment(house, {
      classId: second7,
      title: 'Read the chapter on wind',
      instructions: 'Pages 40 to 46 of the blue book. Nothing to hand in.',
      dueAt: evening(-1),
      most: null,
      category: 'homework',
      handsIn: false,
    });
    await workOn(
      setting,
      fourth,
      weather.questions.slice(0, 2),
      open.copies.get(others[1]!.id)!,
      1,
      now - 5 * HOUR,
    );
    await oldNewsIsRead(house, now - 2 * DAY);
  } finally {
    opener.close();
    await rm(folder, { recursive: true, force: true });
  }
}

interface HandedIn {
  readonly copyId: CopyId;
  readonly handInId: HandInId;
  readonly documentId: DocumentId;
  readonly filled: FilledIn;
  readonly student: Person;
}

interface Bringing {
  house: SchoolHouse;
  opener: Opener;
  folder: string;
  chance: Chance;
  sheet: Worksheet;
  copies: Map<PersonId, CopyId>;
  who: readonly Person[];
  dueAt: number;
  share: number;
  strength: Map<PersonId, number>;
  say: (text: string) => void;
}

/** Each of them fills in the worksheet and hands it in, most in the days before the date, a `share` of them late. */
async function handInAll(b: Bringing): Promise<HandedIn[]> {
  const out: HandedIn[] = [];
  for (const [i, student] of b.who.entries()) {
    b.say(`${b.sheet.title}: handed in ${i + 1} of ${b.who.length}`);
    const copyId = b.copies.get(student.id)!;
    const filled = await fillIn(
      b.chance,
      b.sheet,
      `${student.given} ${student.family}`,
      b.strength.get(student.id)!,
    );
    const path = join(b.folder, `${copyId}.pdf`);
    await writeFile(path, filled.bytes);
    b.house.setClock(
      b.chance.yes(b.share)
        ? b.dueAt + b.chance.between(20 * MINUTE, 30 * HOUR)
        : b.dueAt - b.chance.between(30 * MINUTE, 60 * HOUR),
    );
    const name = b.chance.pick([
      `${b.sheet.title}.pdf`,
      'map homework.pdf',
      `scan ${b.chance.int(100, 999)}.pdf`,
    ]);
    const { id: documentId } = await addFile(b.house, b.opener, copyId, { path, name });
    out.push({
      copyId,
      documentId,
      filled,
      student,
      handInId: await handIn(b.house, student, copyId, { id: newId(b.house), cover: '', claimedAt: null }),
    });
  }
  return out;
}

/** Waits until the server has read all pages, so that marks can stand on their words. */
async function readAll(
  house: House,
  handedIn: readonly HandedIn[],
  say: (text: string) => void,
): Promise<void> {
  for (const [i, { documentId }] of handedIn.entries())
    for (let tries = 0; ; tries++) {
      const { state } = await documentPages(house, documentId, true);
      if (state.reading.state === 'done') break;
      if (state.reading.state === 'failed' || tries > 1200)
        throw new Error(`Pages of ${documentId} could not be read: ${state.reading.error}`);
      say(`reading pages: ${i} of ${handedIn.length}`);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
}

interface Marking {
  house: SchoolHouse;
  teacher: Person;
  chance: Chance;
  sheet: Worksheet;
  handedIn: readonly HandedIn[];
  done: number;
  begun: number;
  startAt: number;
  say: (text: string) => void;
  /** Counts which phrases of the bank were taken. */
  used(handInId: HandInId, marks: readonly Mark[]): Promise<void>;
}

/** One note is spoken, and one answer talked through with the pen. */
async function speakOn(
  { house, teacher, chance, sheet }: Marking,
  maker: MarkMaker,
  marks: Mark[],
): Promise<Mark[]> {
  const place = sheet.places.find((p) => p.question === '2')!;
  const spoken = withFirstSpoken(marks, await recorded(house, teacher, 'scale'));
  return [...spoken, ...talkedThrough(chance, maker, place, await recorded(house, teacher, 'talk'))];
}

/** The teacher marks the first `done` copies and begins `begun` more, a few minutes each; gives what was put on each. */
async function markAll(m: Marking): Promise<{ copyId: CopyId; student: Person; marks: readonly Mark[] }[]> {
  let at = m.startAt;
  const out = [];
  for (const [i, copy] of m.handedIn.slice(0, m.done + m.begun).entries()) {
    m.say(`${m.sheet.title}: marked ${i + 1} of ${m.done + m.begun}`);
    const text = await readText(m.house.db.manager, copy.documentId);
    m.house.setClock(at);
    const maker = {
      document: copy.documentId,
      text,
      newId: <T extends string>() => newId<T>(m.house),
      now: () => m.house.now(),
    };
    const typed = marksFor(m.chance, maker, m.sheet, copy.filled.answers);
    const spoken = i === 0;
    const marks = spoken ? await speakOn(m, maker, typed) : typed;
    const finished = i < m.done;
    const points = [...copy.filled.answers.values()].reduce((sum, a) => sum + a.points, 0);
    const share = points / (m.sheet.points * 100);
    const words = m.chance.pick(CLOSING[share > 0.8 ? 'high' : share > 0.5 ? 'middle' : 'low']);
    const some = finished ? marks : marks.slice(0, Math.max(1, marks.length >> 1));
    const changes = changesFor(
      maker,
      some,
      finished
        ? {
            grade: points,
            closing: `${copy.student.given}: ${words}`,
            voice: spoken ? await recorded(m.house, m.teacher, 'closing') : null,
            done: true,
          }
        : null,
    );
    if (finished) {
      await takeChanges(m.house, m.teacher, { handInId: copy.handInId }, changes.slice(0, -1));
      at += m.chance.between(2.5 * MINUTE, 6 * MINUTE);
      m.house.setClock(at);
      await takeChanges(m.house, m.teacher, { handInId: copy.handInId }, changes.slice(-1));
    } else await takeChanges(m.house, m.teacher, { handInId: copy.handInId }, changes);
    await m.used(copy.handInId, some);
    out.push({ copyId: copy.copyId, student: copy.student, marks: some });
  }
  return out;
}
