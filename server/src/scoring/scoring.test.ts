import {
  type Change,
  type ChangeId,
  type CopyId,
  type CriterionId,
  type CriterionScore,
  duplicateRubric,
  type NoteMark,
  newRubric,
  plainScoring,
  type Question,
  type QuestionId,
  type Rubric,
  type Score,
  type ScoreOf,
  type Scoring,
  scoreOfCriterion,
  scoreOfQuestion,
} from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn, handInFor } from '../testing/handed-in.ts';
import { Caller, type Loose, testServer } from '../testing/house.ts';
import { closing, done, grade, id, note, put } from '../testing/marks.ts';
import { madeWorksheet, question, worksheetRead } from '../testing/worksheets.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
});
afterAll(() => running.stop());

const score = (of: ScoreOf, value: Score | null, base: ChangeId | null = null): Change => ({
  id: id<ChangeId>(),
  base,
  type: 'score',
  of,
  value,
  was: null,
});
const points = (q: QuestionId, value: number, base: ChangeId | null = null) =>
  score(scoreOfQuestion(q), { of: 'question', points: value }, base);
const at = (rubric: Rubric, criterion: number, level: number, words = ''): CriterionScore => ({
  of: 'criterion',
  stands: { is: 'level', level: rubric.criteria[criterion]!.levels[level]!.id },
  words,
  had: [],
  at: Date.now(),
});

/** Two criteria of four levels, 0 to 3 points. */
const rubricOfTwo = (): Rubric => {
  const one = newRubric(() => id());
  const levels = one.criteria[0]!.levels.map((l, i) => ({ ...l, points: i * 100, descriptor: `Step ${i}` }));
  const criterion = { ...one.criteria[0]!, name: 'Reads the map', levels };
  const again = duplicateRubric({ ...one, criteria: [criterion] }, () => id());
  return { ...one, criteria: [criterion, { ...again.criteria[0]!, name: 'Writes it up' }] };
};

type School = Awaited<ReturnType<typeof handedIn>>;
const ofAssignment = (h: School) => ({ params: { assignmentId: h.assignmentId } });
/** Scores by a rubric that makes the whole grade. */
async function byRubric(h: School, scoring: Partial<Scoring> = {}) {
  const rubric = rubricOfTwo();
  const made = (await h.teacherCaller.call('makeRubric', { body: { name: 'Map work', rubric } })).body;
  const body = {
    scoring: { ...plainScoring(false), by: 'rubric', ...scoring },
    rubricVersionId: made.versionId,
    most: 600,
    news: null,
  };
  const reply = await h.teacherCaller.call('saveScoring', { ...ofAssignment(h), body });
  expect(reply.status).toBe(200);
  const first = rubric.criteria[0]!.id;
  return { rubric, made, first, second: rubric.criteria[1]!.id };
}
const rowsOf = async (h: School): Promise<Loose[]> =>
  (await h.teacherCaller.call('pile', ofAssignment(h))).body.rows;
const rowOf = async (h: School, copyId: CopyId = h.copyId) =>
  (await rowsOf(h)).find((r) => r.copyId === copyId);
/** Its date was so many hours before it came in. */
const dueBefore = (h: School, copyId: CopyId, hours: number) =>
  running.house.db.query(
    'UPDATE copy c JOIN hand_in h ON h.copy_id = c.id SET c.due_at = h.handed_in_at - INTERVAL ? HOUR WHERE c.id = ? AND c.assignment_id = ?',
    [hours, copyId, h.assignmentId],
  );
const sendAlone = async (h: School, copyId: CopyId, ...changes: Change[]) =>
  (await h.teacherCaller.call('sendCopyMarking', { params: { copyId }, body: { changes } })).body;

describe('a grade that is computed', () => {
  test('follows every score, stands under one that is typed, and goes back with its sum', async () => {
    const h = await handedIn(running, ['ada']);
    const { rubric, first, second } = await byRubric(h);
    await h.send(score(scoreOfCriterion('final', first), at(rubric, 0, 3, 'Sure of it.')));
    expect(await rowOf(h)).toMatchObject({ computed: 300, grade: 300, typed: null });
    await h.send(score(scoreOfCriterion('final', second), at(rubric, 1, 2)));
    expect(await rowOf(h)).toMatchObject({ computed: 500, grade: 500 });
    const typed = grade(550);
    await h.send(typed);
    expect(await rowOf(h)).toMatchObject({ computed: 500, typed: 550, grade: 550 });
    await h.send(grade(null, typed.id), done(true));
    await h.teacherCaller.call('handBack', { ...ofAssignment(h), body: { copyIds: [h.copyId] } });
    const { snapshot } = (await h.student.call('work', { params: { copyId: h.copyId } })).body.handBack;
    expect(snapshot).toMatchObject({
      grade: 500,
      most: 600,
      scored: { rubric: { name: 'Map work' }, parts: [{ of: 'rubric', earned: 500, most: 600, share: 100 }] },
    });
    expect(snapshot.scored.rounds[0].scores[0].score.words).toBe('Sure of it.');
  });

  test('is computed anew when the way of scoring changes; trying it first keeps nothing', async () => {
    const h = await handedIn(running, ['ada', 'ben']);
    const { rubric, first, made } = await byRubric(h);
    await h.send(score(scoreOfCriterion('final', first), at(rubric, 0, 1)));
    const edit = {
      scoring: { ...plainScoring(false), by: 'hand' },
      rubricVersionId: made.versionId,
      most: 600,
      news: null,
    };
    const tried = await h.teacherCaller.call('tryScoring', { ...ofAssignment(h), body: edit });
    expect(tried.body.changes).toMatchObject([{ copyId: h.copyId, from: 100, to: null, typed: false }]);
    expect(await rowOf(h)).toMatchObject({ computed: 100 });
    const kept = await h.teacherCaller.call('saveScoring', { ...ofAssignment(h), body: edit });
    expect(kept.body.changes).toEqual(tried.body.changes);
    expect(await rowOf(h)).toMatchObject({ computed: null });
  });

  test('a score and a change of the way of scoring at once: the grade is of what stands in the end', async () => {
    const h = await handedIn(running, ['ada']);
    const { rubric, first, second, made } = await byRubric(h);
    const zero = {
      scoring: { ...plainScoring(false), by: 'rubric', notShown: 'zero' },
      rubricVersionId: made.versionId,
      most: 1200,
      news: null,
    };
    await Promise.all([
      h.send(score(scoreOfCriterion('final', first), at(rubric, 0, 3))),
      h.teacherCaller.call('saveScoring', { ...ofAssignment(h), body: zero }),
      h.send(score(scoreOfCriterion('final', second), at(rubric, 1, 0))),
    ]);
    expect(await rowOf(h)).toMatchObject({ computed: 600 });
  });

  test('a rubric changed by a colleague meanwhile is a new version; what hangs keeps its own', async () => {
    const h = await handedIn(running, ['ada']);
    const { rubric, made, first } = await byRubric(h);
    const changed = { ...rubric, criteria: [rubric.criteria[0]!] };
    const params = { rubricId: made.id };
    const body = { name: 'Map work', versionId: made.versionId, rubric: changed };
    const saved = await h.teacherCaller.call('saveRubric', { params, body });
    expect(saved.body).toMatchObject({ number: 2 });
    expect((await h.teacherCaller.call('saveRubric', { params, body })).body.error.code).toBe(
      'changed-elsewhere',
    );
    await h.send(score(scoreOfCriterion('final', first), at(rubric, 0, 3)));
    const { scoring } = (await h.teacherCaller.call('desk', { params: { copyId: h.copyId } })).body;
    expect(scoring.rubric.rubric.criteria).toHaveLength(2);
    expect(scoring.rubric.newest).toBe(saved.body.versionId);
  });

  test('ungraded work takes no points for questions and has no number', async () => {
    const h = await handedIn(running, ['ada']);
    const { rubric, first, made } = await byRubric(h);
    const body = {
      scoring: { ...plainScoring(false), by: 'rubric' },
      rubricVersionId: made.versionId,
      most: null,
      news: null,
    };
    await h.teacherCaller.call('saveScoring', { ...ofAssignment(h), body });
    const answer = await h.send(
      points(id<QuestionId>(), 100),
      score(scoreOfCriterion('final', first), at(rubric, 0, 2)),
    );
    expect(answer.results.map((r) => r.outcome)).toEqual(['refused', 'applied']);
    expect(await rowOf(h)).toMatchObject({ grade: null, computed: null });
  });

  test('the better hand-in counts where the assignment says so', async () => {
    const h = await handedIn(running, ['ada']);
    await byRubric(h, { by: 'hand', again: 'better' });
    await h.send(grade(500), done(true));
    const back = () =>
      h.teacherCaller.call('handBack', { ...ofAssignment(h), body: { copyIds: [h.copyId] } });
    await back();
    const { handInId } = await handInFor(h.student, h.teacherCaller, h.copyId);
    await h.teacherCaller.call('sendChanges', {
      params: { handInId },
      body: { changes: [grade(300), done(true)] },
    });
    await back();
    const { handBack } = (await h.student.call('work', { params: { copyId: h.copyId } })).body;
    expect(handBack.snapshot).toMatchObject({ grade: 300, counts: 500 });
  });
});

describe('a tally', () => {
  /** A class with a worksheet of three questions handed in as typed answers. */
  async function onWorksheet() {
    const h = await handedIn(running, ['ada', 'ben']);
    const worksheetId = await madeWorksheet(h.teacherCaller);
    const { versionId, revision } = await worksheetRead(h.teacherCaller, worksheetId);
    const questions: Question[] = [
      question(0, { kind: 'number', unit: 'km' }),
      question(1, { kind: 'line' }),
      question(2, { kind: 'line' }, { points: null }),
    ];
    await h.teacherCaller.call('saveQuestions', {
      params: { worksheetId },
      body: { versionId, revision, questions },
    });
    const { body } = await h.teacherCaller.call('startAssignment', { params: { classId: h.classId } });
    const params = { assignmentId: body.id };
    const words = {
      title: 'Rivers',
      instructions: { type: 'doc', content: [] },
      category: '',
      unit: '',
      most: 400,
      dueAt: null,
      handsIn: true,
    };
    await h.teacherCaller.call('addMaterialWorksheet', { params, body: { worksheetId } });
    const { revision: now } = (await h.teacherCaller.call('assignment', { params })).body;
    await h.teacherCaller.call('saveAssignment', {
      params,
      body: { revision: now, words, audience: { alsoClasses: [], students: null }, news: null },
    });
    await h.teacherCaller.call('setAssignment', { params, body: { opensAt: null } });
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const copies: Loose[] = [];
    for (const [who, values] of [
      [h.student, ['12,5 km', 'the Lume']],
      [ben, ['1250', 'The lume ']],
    ] as const) {
      const row = (await who.call('workList')).body.find((r: Loose) => r.assignment.title === 'Rivers');
      await who.call('sendCopyChanges', {
        params: { copyId: row.copyId },
        body: {
          changes: values.map((value, i) => ({
            id: id(),
            base: null,
            type: 'answer',
            question: questions[i]!.id,
            value,
            was: '',
          })),
        },
      });
      copies.push({ copyId: row.copyId, handInId: (await who.handIn(row.copyId)).body.handIn.id });
    }
    return { ...h, params, questions, worksheetId, copies };
  }

  test('questions across the class: answers, keys, points for one and the same for others; what is no longer asked is left alone', async () => {
    const s = await onWorksheet();
    const [first] = s.questions;
    const key = { of: 'number', value: '12,5', tolerance: '0', unit: 'km' };
    const saved = await s.teacherCaller.call('saveKey', {
      params: { worksheetId: s.worksheetId, questionId: first!.id },
      body: { key },
    });
    expect(saved.status).toBe(200);
    const wrong = { of: 'choice', options: ['a'] };
    const unfit = await s.teacherCaller.call('saveKey', {
      params: { worksheetId: s.worksheetId, questionId: first!.id },
      body: { key: wrong },
    });
    expect(unfit.body.error.code).toBe('bad-input');
    for (const { handInId } of s.copies)
      await s.teacherCaller.call('sendChanges', {
        params: { handInId },
        body: { changes: [points(first!.id, 200)] },
      });
    const across = await s.teacherCaller.call('across', { params: { ...s.params, questionId: first!.id } });
    expect(across.body.question).toMatchObject({ label: '1', most: 200, key });
    expect(across.body.copies.map((c: Loose) => [c.value, c.points, c.document !== null])).toEqual([
      ['12,5 km', 200, true],
      ['1250', 200, true],
    ]);
    expect(across.body.progress.map((p: Loose) => [p.label, p.scored, p.of])).toEqual([
      ['1', 2, 2],
      ['2', 0, 2],
      ['3', 0, 2],
    ]);
    const missing = await s.teacherCaller.call('across', { params: { ...s.params, questionId: id() } });
    expect(missing.status).toBe(404);
    // The tally makes the grade where nobody said otherwise.
    const { rows } = (await s.teacherCaller.call('pileScores', { params: s.params })).body;
    expect(rows.map((r: Loose) => [r.sum, r.computed, r.open])).toEqual([
      [200, 200, 1],
      [200, 200, 1],
    ]);
    // Keys are not for students.
    const work = await s.student.call('work', { params: { copyId: s.copies[0].copyId } });
    expect(JSON.stringify(work.body)).not.toContain('tolerance');
  });

  test('marks with points on the page count for the question where they stand, and what counts nowhere is told', async () => {
    const s = await onWorksheet();
    const { handInId, copyId } = s.copies[0];
    const desk = (await s.teacherCaller.call('desk', { params: { copyId } })).body;
    const on = (y: number, more = {}) =>
      put(
        note(desk.documents[0].id, 'Good.', {
          place: { on: 'spot', x: 100, y },
          points: 100,
          ...more,
        } as Partial<NoteMark>),
      );
    await s.teacherCaller.call('sendChanges', {
      params: { handInId },
      body: { changes: [on(120), on(700)] },
    });
    const { rows } = (await s.teacherCaller.call('pileScores', { params: s.params })).body;
    const row = rows.find((r: Loose) => r.copyId === copyId);
    expect(row).toMatchObject({
      sum: 100,
      troubles: 1,
      points: [{ question: s.questions[0]!.id, points: 100, typed: false }],
    });
  });
});

describe('scored though nothing came in', () => {
  test('a talk is scored, called marked and handed back; a later hand-in starts from these scores', async () => {
    const h = await handedIn(running, ['ada', 'ben']);
    const { rubric, first, second } = await byRubric(h);
    const copyId = h.copyOf(1);
    const own = await sendAlone(
      h,
      copyId,
      score(scoreOfCriterion('final', first), at(rubric, 0, 3)),
      score(scoreOfCriterion('final', second), at(rubric, 1, 3)),
      closing('Well told.'),
      done(true),
    );
    expect(own.results.map((r: Loose) => r.outcome)).toEqual(['applied', 'applied', 'applied', 'applied']);
    expect(await rowOf(h, copyId)).toMatchObject({ place: 'marked', grade: 600 });
    await h.teacherCaller.call('handBack', { ...ofAssignment(h), body: { copyIds: [copyId] } });
    const twice = await h.teacherCaller.call('handBack', { ...ofAssignment(h), body: { copyIds: [copyId] } });
    expect(twice.status).toBe(409);
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const work = (await ben.call('work', { params: { copyId } })).body;
    expect(work).toMatchObject({
      row: { place: 'handed-back' },
      handBack: { handInNumber: 0, snapshot: { grade: 600 } },
    });
    expect(
      (await sendAlone(h, copyId, closing('Later.', own.current?.slip?.closing.version ?? null))).results[0]
        .outcome,
    ).not.toBe('applied');
    // Now it comes in after all.
    const { handInId } = await handInFor(ben, h.teacherCaller, copyId);
    const desk = (await h.teacherCaller.call('desk', { params: { copyId } })).body;
    expect(desk.marking.scores).toHaveLength(2);
    expect(desk.marking.scores.every((s: Loose) => s.version === null)).toBe(true);
    await h.teacherCaller.call('sendChanges', {
      params: { handInId },
      body: { changes: [score(scoreOfCriterion('final', second), at(rubric, 1, 0))] },
    });
    expect(await rowOf(h, copyId)).toMatchObject({ computed: 300, handInNumber: 1 });
  });

  test('what was scored before a late hand-in is graded as late as soon as its marking begins, whatever is written first', async () => {
    const h = await handedIn(running, ['ada', 'ben']);
    const late = { counts: 'points', perDay: 100, cap: null, graceDays: 0 } as const;
    const { rubric, first, second } = await byRubric(h, { late });
    const copyId = h.copyOf(1);
    await sendAlone(
      h,
      copyId,
      score(scoreOfCriterion('final', first), at(rubric, 0, 3)),
      score(scoreOfCriterion('final', second), at(rubric, 1, 3)),
    );
    expect(await rowOf(h, copyId)).toMatchObject({ computed: 600 });
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const { handInId } = await handInFor(ben, h.teacherCaller, copyId);
    await dueBefore(h, copyId, 36);
    await h.teacherCaller.call('sendChanges', {
      params: { handInId },
      body: { changes: [closing('It came late.')] },
    });
    expect(await rowOf(h, copyId)).toMatchObject({ computed: 400, handInNumber: 1 });
  });

  test('lateness follows the date that holds now, moved for one or for all, and the computed grade with it', async () => {
    const h = await handedIn(running, ['ada', 'ben']);
    const late = { counts: 'points', perDay: 100, cap: null, graceDays: 0 } as const;
    const { rubric, first, second } = await byRubric(h, { late });
    await h.send(
      score(scoreOfCriterion('final', first), at(rubric, 0, 3)),
      score(scoreOfCriterion('final', second), at(rubric, 1, 3)),
    );
    const said = async () => {
      const [desk, work] = await Promise.all([
        h.teacherCaller.call('desk', { params: { copyId: h.copyId } }),
        h.student.call('work', { params: { copyId: h.copyId } }),
      ]);
      const { late, computed } = await rowOf(h);
      expect([desk.body.handIn.late, work.body.row.late]).toEqual([late, late]);
      return [Math.ceil(late / 3_600_000), computed];
    };
    expect(await said()).toEqual([0, 600]);
    // An own date that is over; two days begun.
    const { handedInAt } = await rowOf(h);
    const own = async (hoursBefore: number | null) => {
      const dueAt = hoursBefore === null ? null : handedInAt - hoursBefore * 3_600_000;
      const body = { copyIds: [h.copyId], dueAt };
      expect((await h.teacherCaller.call('pileTerms', { ...ofAssignment(h), body })).status).toBe(200);
    };
    await own(36);
    expect(await said()).toEqual([36, 400]);
    await own(-36);
    expect(await said()).toEqual([0, 600]);
    // The date of all does not touch who has one of their own; without it, it holds.
    const sheet = (await h.teacherCaller.call('assignment', ofAssignment(h))).body;
    const { revision, words, audience } = sheet;
    const body = { revision, words: { ...words, dueAt: handedInAt - 3_600_000 }, audience, news: null };
    expect((await h.teacherCaller.call('saveAssignment', { ...ofAssignment(h), body })).status).toBe(200);
    expect(await said()).toEqual([0, 600]);
    await own(null);
    expect(await said()).toEqual([1, 500]);
    // What is back stays as it is, and says what it said.
    await h.send(done(true));
    await h.teacherCaller.call('handBack', { ...ofAssignment(h), body: { copyIds: [h.copyId] } });
    await own(-36);
    expect((await rowOf(h)).computed).toBe(500);
  });

  test('a midway round is released alone, without a grade, and the copy stays with its student; then the final one stands beside it', async () => {
    const h = await handedIn(running, ['ada', 'ben']);
    const { rubric, first } = await byRubric(h);
    const copyId = h.copyOf(1);
    const midway = scoreOfCriterion('midway', first);
    await sendAlone(h, copyId, score(midway, at(rubric, 0, 1, 'On the way.')));
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const see = async () => (await ben.call('work', { params: { copyId } })).body;
    expect((await see()).midway).toBeNull();
    const released = await h.teacherCaller.call('releaseMidway', {
      ...ofAssignment(h),
      body: { copyIds: [h.copyId, copyId] },
    });
    expect(released.body).toEqual({ released: [copyId], kept: [h.copyId] });
    const work = await see();
    expect(work).toMatchObject({
      row: { place: 'with-student' },
      handBack: null,
      midway: { snapshot: { grade: null, round: 'midway' } },
    });
    // It is frozen, and it is released once.
    const late = await sendAlone(h, copyId, score(midway, at(rubric, 0, 3), work.x ?? null));
    expect(late.results[0].outcome).not.toBe('applied');
    const again = await h.teacherCaller.call('releaseMidway', {
      ...ofAssignment(h),
      body: { copyIds: [copyId] },
    });
    expect(again.body.error.code).toBe('nothing-scored');
    const { handInId } = await handInFor(ben, h.teacherCaller, copyId);
    await h.teacherCaller.call('sendChanges', {
      params: { handInId },
      body: { changes: [score(scoreOfCriterion('final', first), at(rubric, 0, 2)), done(true)] },
    });
    await h.teacherCaller.call('handBack', { ...ofAssignment(h), body: { copyIds: [copyId] } });
    const { scored } = (await see()).handBack.snapshot;
    expect(scored.rounds.map((r: Loose) => r.round)).toEqual(['midway', 'final']);
  });
});

describe('evening out', () => {
  test('shifts what is graded, keeps why, and is undone where nobody typed since', async () => {
    const h = await handedIn(running, ['ada', 'ben', 'cyd']);
    await byRubric(h, { by: 'hand' });
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const other = await handInFor(ben, h.teacherCaller, h.copyOf(1));
    await h.send(grade(400));
    await h.teacherCaller.call('sendChanges', {
      params: { handInId: other.handInId },
      body: { changes: [grade(580)] },
    });
    const body = {
      evening: { how: 'shift', by: 50 },
      copyIds: [h.copyOf(0), h.copyOf(1), h.copyOf(2)],
      reason: 'Too strict at first.',
    };
    const reply = await h.teacherCaller.call('evenOut', { ...ofAssignment(h), body });
    expect(reply.body).toEqual({ changed: 2, kept: 0 });
    expect((await rowsOf(h)).map((r) => r.grade)).toEqual([450, 600, null]);
    const { evenings, rows } = (await h.teacherCaller.call('pileScores', ofAssignment(h))).body;
    expect(evenings).toMatchObject([{ reason: 'Too strict at first.', copies: 2, undone: false }]);
    await h.send(grade(470, rows[0].gradeVersion));
    const undone = await h.teacherCaller.call('undoEvening', {
      params: { ...ofAssignment(h).params, eveningId: evenings[0].id },
    });
    expect(undone.body).toEqual({ changed: 1, kept: 1 });
    expect((await rowsOf(h)).map((r) => r.grade)).toEqual([470, 580, null]);
  });
});

test('a criterion’s id is one of its rubric, whatever is sent: a score of one that is gone stands and is told as gone', async () => {
  const h = await handedIn(running, ['ada']);
  const { rubric } = await byRubric(h);
  await h.send(score(scoreOfCriterion('final', id<CriterionId>()), at(rubric, 0, 3)));
  expect(await rowOf(h)).toMatchObject({ computed: null });
});
