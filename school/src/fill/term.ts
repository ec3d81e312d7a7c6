import {
  type ClassId,
  type Person,
  type PersonId,
  PLAIN_HAND_BACK,
  type RemarkAnswerId,
  type RemarkId,
} from '@jotmark/core';
import {
  AssignmentTable,
  addRemark,
  answerRemark,
  handBack,
  newId,
  saveBookRule,
  saveReport,
  setAssignment,
  takeChanges,
  update,
} from '@jotmark/server';
import { checked, write } from './scores.ts';
import type { Setting } from './setting.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** What was written on paper this term and only its grades are here: title, kind of work, unit, points, when it went back, and what is said of it by how it went. */
const ON_PAPER = [
  {
    title: 'Tides, a short test',
    category: 'test',
    unit: 'Sea and shore',
    most: 2500,
    daysAgo: 33,
    words: ['You know when to leave the beach.', 'Read the table once more: hours first, then height.'],
  },
  {
    title: 'A map of my street',
    category: 'project',
    unit: 'Reading maps: Hollin Island',
    most: 2000,
    daysAgo: 27,
    words: ['I could find your door by it.', 'A map needs a scale. Yours has none yet.'],
  },
  {
    title: 'Signs on a map, a quiz',
    category: 'test',
    unit: 'Reading maps: Hollin Island',
    most: 1200,
    daysAgo: 17,
    words: ['All signs known.', 'Learn the signs for wet ground: there are three.'],
  },
] as const;

/** The rest of the term: work on paper with its grades, what was said in class, how the mark book adds up, and reports that were begun. */
export async function restOfTerm(
  s: Setting,
  classId: ClassId,
  students: readonly Person[],
  strength: ReadonlyMap<PersonId, number>,
  now: number,
): Promise<void> {
  const { house, teacher, chance } = s;
  // In the second lesson of the day.
  const lesson = Math.floor(now / DAY) * DAY + 10 * HOUR;
  for (const { title, category, unit, most, daysAgo, words } of ON_PAPER) {
    house.setClock(now - (daysAgo + 6) * DAY);
    const set = await setAssignment(house, {
      classId,
      title,
      instructions: 'Written on paper in class.',
      dueAt: lesson - (daysAgo + 3) * DAY,
      most,
      category,
      handsIn: false,
    });
    await update(house.db.manager, AssignmentTable, { id: set.id }, { unit });
    house.setClock(now - daysAgo * DAY);
    const there = students.filter((_, i) => (i + daysAgo) % 13 !== 4);
    for (const student of there) {
      const share = Math.min(1, Math.max(0.2, strength.get(student.id)! + chance.between(-0.15, 0.2)));
      const value = Math.round((share * most) / 50) * 50;
      await takeChanges(
        house,
        teacher,
        { copyId: set.copies.get(student.id)! },
        checked([
          write(s, 'grade', value, null),
          write(s, 'closing', share > 0.65 ? words[0] : words[1], ''),
          write(s, 'done', true, false),
        ]),
      );
    }
    await handBack(
      house,
      teacher,
      set.id,
      there.map((p) => set.copies.get(p.id)!),
      { ...PLAIN_HAND_BACK, tell: false },
    );
  }
  await remarks(s, classId, students, now);
  await saveBookRule(house, classId, {
    weights: [
      { category: 'homework', weight: 2 },
      { category: 'test', weight: 3 },
      { category: 'project', weight: 1 },
    ],
    within: 'points',
    missing: 'left-out',
    terms: [
      { name: 'Summer', from: now - 180 * DAY, to: now - 60 * DAY },
      { name: 'Autumn', from: now - 60 * DAY, to: now + 60 * DAY },
    ],
  });
  house.setClock(now - 2 * DAY);
  for (const [n, words] of [
    [9, 'Maite measures carefully and explains to others what she sees.\nNext: give the unit every time.'],
    [5, 'Chidubem has found his way into maps.'],
  ] as const)
    await saveReport(house, teacher, classId, students[n]!.id, { term: 'Autumn', words, base: 0 });
}

async function remarks(
  s: Setting,
  classId: ClassId,
  students: readonly Person[],
  now: number,
): Promise<void> {
  const { house, teacher } = s;
  const say = async (daysAgo: number, to: readonly number[], words: string, work = '', strand = '') => {
    house.setClock(now - daysAgo * DAY + 11 * HOUR);
    const id = newId<RemarkId>(house);
    await addRemark(house, teacher, classId, {
      id,
      to: to.map((n) => students[n]!.id),
      words,
      at: house.now(),
      work,
      strand,
    });
    return id;
  };
  await say(30, [2, 7, 11], 'Stayed behind and put the map cases in order. Thank you.', 'class talk');
  const shown = await say(
    12,
    [9],
    'At the board: explained grid references to Radu, slowly and right.',
    'class talk',
    'explaining',
  );
  await say(
    10,
    [4, 8, 9],
    'Ten minutes of extra help: contour lines with a potato and a knife.',
    'extra help',
    'height',
  );
  await say(4, [19, 26], 'The quiz by word of mouth: knew all signs for water.', 'quiz', 'signs');
  house.setClock(now - 11 * DAY);
  await answerRemark(house, students[9]!, shown, {
    id: newId<RemarkAnswerId>(house),
    words: 'I practised it with my brother.',
    quote: 'slowly and right',
    personId: students[9]!.id,
  });
}
