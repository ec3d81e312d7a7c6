import { SimulatedStudent } from '@jotmark/school';
import { makeLesson, ownServer } from './lesson.ts';
import { drawn, expect, PASSWORD, test } from './story.ts';

const HOUR = 3_600_000;

test('the server is killed and starts anew while 32 type: the teacher sees them all finish, and no letter is lost', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(Array.from({ length: 32 }, (_, i) => `S${i}`));
  const lesson = await makeLesson(house, c, made.written);
  const first = await ownServer();
  const words = (i: number, n: number) => `Student ${i}, answer ${n + 1}: along the shore and up to the hut.`;
  const students = c.students.map(
    (login, i) =>
      new SimulatedStudent(first.address, {
        login,
        password: PASSWORD,
        answerTo: (_, n) => words(i, n),
        pause: 150,
        letters: 6,
        reply: null,
      }),
  );
  for (const student of students) await student.signIn();
  // The teacher is on another server of the same school.
  const teacher = await as(c.teacher);
  await teacher.goto(`/room/${lesson.assignmentId}`);
  const working = students.map((student, i) => student.takeUp(lesson.copyOf(i)));
  await expect(teacher.getByText('32 here')).toBeVisible();
  await first.kill();
  const second = await ownServer(Number(new URL(first.address).port));
  await Promise.all(working);
  await expect(teacher.getByText(/· 3 of 3/)).toHaveCount(32);
  for (const student of students) student.stop();

  const answers: { copy_id: string; value: string }[] = await house.db.query(
    'SELECT a.copy_id, a.value FROM copy_answer a JOIN copy c ON c.id = a.copy_id WHERE c.assignment_id = ?',
    [lesson.assignmentId],
  );
  for (const [i] of students.entries())
    expect(
      answers
        .filter((a) => a.copy_id === lesson.copyOf(i))
        .map((a) => a.value)
        .sort(),
    ).toEqual([0, 1, 2].map((n) => words(i, n)));
  await second.kill();
});

test('with clocks wrong by hours the room tells silences rightly, and two teachers of one class see the same', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben']);
  const lesson = await makeLesson(house, c, made.written);
  const other = await makeClass(['Cyd']);
  await house.db.query(
    `INSERT INTO membership (class_id, person_id, role)
     SELECT a.class_id, p.id, 'teacher' FROM assignment a, person p WHERE a.id = ? AND p.login = ?`,
    [lesson.assignmentId, other.teacher],
  );
  const early = await as(c.teacher);
  const late = await as(other.teacher);
  await early.clock.setSystemTime(Date.now() - 5 * HOUR);
  await late.clock.setSystemTime(Date.now() + 7 * HOUR);
  const ada = await as(c.students[0]!);
  await ada.clock.setSystemTime(Date.now() + 30 * HOUR);

  for (const teacher of [early, late]) await teacher.goto(`/room/${lesson.assignmentId}`);
  await ada.getByRole('link', { name: lesson.title }).click();
  await drawn(ada);
  await ada.getByLabel('Answer to 1').fill('north of the hut');
  for (const teacher of [early, late]) {
    const place = teacher.getByRole('listitem', { name: /^Ada / });
    await expect(place).toContainText('here · 1 of 3');
    await expect(place).toContainText(/writing now|a moment ago/);
    await expect(place).toContainText('north of the hut');
  }
  // Both look closely; what one says, the other reads too.
  await early.getByRole('listitem', { name: /^Ada / }).getByRole('link').click();
  await late.getByRole('listitem', { name: /^Ada / }).getByRole('link').click();
  await drawn(early);
  await drawn(late);
  await ada.getByLabel('Answer to 2').fill('by the path');
  for (const teacher of [early, late])
    await expect(teacher.getByLabel('Answer to 2')).toHaveValue('by the path');
  await early.getByLabel(/^Write to/).fill('Well seen.');
  await early.getByRole('button', { name: 'Send' }).click();
  await expect(late.getByText('Well seen.')).toBeVisible();
  await expect(ada.getByText('Well seen.').first()).toBeVisible();
});
