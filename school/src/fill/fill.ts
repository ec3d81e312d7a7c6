import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  type AssignmentId,
  type CopyId,
  type Person,
  type PersonId,
  PLAIN_HAND_BACK,
  type RichText,
} from '@jotmark/core';
import {
  AssignmentTable,
  addClass,
  addMessage,
  addPerson,
  addWorksheet,
  DEMO_PASSWORD,
  type House,
  handBack,
  handIn,
  insert,
  MembershipTable,
  newId,
  Opener,
  PersonTable,
  saveKey,
  setAssignment,
  setTerms,
  startDraft,
  update,
} from '@jotmark/server';
import { Chance } from '../chance.ts';
import {
  ADMINISTRATOR,
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
import { essays, reports } from './essays.ts';
import { fromPaper, goesBackLater, recalledOnce, wordsFirst } from './held.ts';
import { handInAll, markAll, readAll, type SchoolHouse } from './pile.ts';
import { drifting, midwayOn, RAIN, talks } from './scores.ts';
import { fieldWalk, keepWorksheet, LIGHTHOUSE_WORDS, type Setting, workOn } from './setting.ts';
import { restOfTerm } from './term.ts';
import { someWords } from './words.ts';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
const SEED = 7_2026;
/** Dates are set before anything is scored. */
const nothingScored = async () => {};

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
      lot = chance,
    ) => handInAll({ house, opener, folder, chance: lot, sheet, copies, who, dueAt, share, strength, say });

    const used = await fillBank(house, teacher);
    const first = await signsAndSquares();
    // The beginning of the term: what was said then is said again later, or is not.
    const earlySet = await set({ ...first, title: 'What I still know of maps' }, now - 37 * DAY, evening(34));
    const earlyIn = await bring(
      first,
      earlySet.copies,
      students.filter((_, i) => i % 14 !== 6),
      evening(34),
      0,
      new Chance(SEED + 1),
    );
    await readAll(running, earlyIn, say);
    await markAll({
      house,
      teacher,
      chance: new Chance(SEED + 2),
      sheet: first,
      handedIn: earlyIn,
      done: earlyIn.length,
      begun: 0,
      startAt: evening(33),
      say,
      used,
    });
    house.setClock(evening(32));
    await handBack(
      house,
      teacher,
      earlySet.id as AssignmentId,
      earlyIn.map((h) => h.copyId),
      { ...PLAIN_HAND_BACK, tell: false },
    );

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
    await setTerms(house, thirdSet.id, students[19]!.id, { excused: true, dueAt: null }, nothingScored);
    await setTerms(
      house,
      thirdSet.id,
      students[23]!.id,
      { excused: false, dueAt: evening(-9) },
      nothingScored,
    );
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
    house.setClock(now - 5 * HOUR);
    await wordsFirst(setting, walk.id, copiesOf(walk, 5));
    await recalledOnce(setting, firstSet.id, firstIn, now - HOUR);
    await fromPaper(setting, opener, folder, copiesOf(firstSet, 8), now - 6 * HOUR);

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
    await addPerson(house, { role: 'administrator', ...ADMINISTRATOR, password: DEMO_PASSWORD });
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
    const spoken = await talks(colleagues, second7, others, evening(1));
    house.setClock(now - 4 * HOUR);
    await goesBackLater(setting, spoken.id, spoken.marked, evening(-1) - 2 * HOUR);
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
    say('an essay, and a report in groups');
    await essays(setting, classId, students, now);
    await reports(setting, classId, students, now);
    say('the rest of the term');
    await restOfTerm(setting, classId, students, strength, now);
    await oldNewsIsRead(house, now - 2 * DAY);
  } finally {
    opener.close();
    await rm(folder, { recursive: true, force: true });
  }
}
