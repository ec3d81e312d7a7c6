import { SimulatedStudent } from '@jotmark/school';
import { makeLesson } from './lesson.ts';
import { drawn, expect, PASSWORD, test } from './story.ts';

const NAMES = ['Ada', 'Ben', 'Cyd', 'Dee', 'Eve', 'Fay', 'Gil', 'Hal'];

test('a teacher walks the room, sees eight students live, says a word to one at a spot, who answers; then the way of a copy is played', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(NAMES);
  const lesson = await makeLesson(house, c, made.written);
  const { title } = lesson;

  // Seven are programs, and one is in a browser.
  const simulated = c.students.slice(1).map(
    (login, i) =>
      new SimulatedStudent(process.env.E2E_ADDRESS!, {
        login,
        password: PASSWORD,
        answerTo: (_, n) => (n <= i % 3 ? `answer ${n + 1} of ${NAMES[i + 1]}, word by word` : ''),
        pause: 150,
        letters: 4,
        reply: i === 0 ? 'Along the path.' : null,
      }),
  );
  const teacher = await as(c.teacher);
  await teacher.goto(`/room/${lesson.assignmentId}`);
  await expect(teacher.getByText('Live', { exact: true })).toBeVisible();
  const place = (name: string) => teacher.getByRole('listitem', { name: new RegExp(`^${name} `) });
  await expect(place('Ada')).toContainText('away · 0 of 3');
  for (const [i, student] of simulated.entries()) {
    await student.signIn();
    student.takeUp(lesson.copyOf(i + 1));
  }
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: title }).click();
  await drawn(ada);
  await expect(place('Ada')).toContainText('here · 0 of 3');
  await ada.getByLabel('Answer to 1').fill('the first thing');
  await expect(place('Ada')).toContainText('here · 1 of 3');
  await expect(place('Ada')).toContainText('the first thing');
  await expect(teacher.getByText('8 here')).toBeVisible();
  await expect(place('Dee')).toContainText('here · 3 of 3');

  // One question of everyone, and who has least first.
  await teacher.getByRole('combobox').selectOption({ label: 'question 2 of everyone' });
  await expect(place('Cyd')).toContainText('answer 2 of Cyd');
  await teacher.getByRole('button', { name: 'least done first' }).click();
  await expect(teacher.getByRole('listitem').first()).toContainText('nothing yet');

  // The same words to two of them; then one closely, at a spot.
  await place('Ben').getByRole('checkbox').check();
  await teacher.getByRole('button', { name: 'Write to 1 chosen student' }).click();
  await teacher.getByLabel(/^Message to 1 chosen student/).fill('How do you measure?');
  await teacher.getByRole('button', { name: 'Send' }).click();
  await expect(place('Ben')).toContainText('1 message');
  await place('Ada').getByRole('link').click();
  await drawn(teacher);
  await expect(teacher.getByLabel('Answer to 1')).toHaveValue('the first thing');
  await ada.getByLabel('Answer to 2').fill('and the second');
  await expect(teacher.getByLabel('Answer to 2')).toHaveValue('and the second');
  await teacher.getByRole('group', { name: /^Page 1 of/ }).click({ position: { x: 300, y: 200 } });
  await teacher.getByLabel('Message at this place').fill('Look at this line again.');
  await teacher.getByRole('button', { name: 'Send now' }).click();
  await expect(ada.getByText('Your teacher, at this place: Look at this line again.')).toBeVisible();
  await ada.getByLabel('Write to your teacher').fill('I see it now.');
  await ada.getByRole('button', { name: 'Send' }).click();
  await expect(teacher.getByText('I see it now.')).toBeVisible();
  // Shown to the class there is no name.
  await teacher.getByRole('button', { name: 'Show it to the class' }).click();
  await expect(teacher.getByText('Ada', { exact: false })).toHaveCount(0);
  await teacher.getByRole('button', { name: 'Back' }).click();

  // A connection that drops is seen as away; nothing typed meanwhile is lost.
  await ada.context().setOffline(true);
  await ada.getByLabel('Answer to 3').fill('written on the way');
  await expect(teacher.getByText('Live, away')).toBeVisible();
  await ada.context().setOffline(false);
  await expect(teacher.getByLabel('Answer to 3')).toHaveValue('written on the way');
  await expect(teacher.getByText('Live, here')).toBeVisible();
  for (const student of simulated) student.stop();

  // Working trail, for the teacher and for Ada the same.
  await teacher.getByRole('link', { name: 'Working trail' }).click();
  await drawn(teacher);
  await expect(teacher.getByRole('heading', { name: '1 sitting' })).toBeVisible();
  await expect(teacher.getByText(/letters written/)).toBeVisible();
  const slider = teacher.getByLabel('Moment of the trail');
  await slider.fill('1');
  await expect(teacher.getByLabel('Answer to 1')).toHaveValue('the first thing');
  await expect(teacher.getByLabel('Answer to 3')).toHaveValue('');
  await teacher.getByRole('button', { name: 'Play' }).click();
  await expect(teacher.getByLabel('Answer to 3')).toHaveValue('written on the way');
  await teacher.getByLabel('Question to follow').selectOption('2');
  await expect(teacher.getByRole('complementary').getByText('and the second')).toBeVisible();
  await ada.goto(new URL(teacher.url()).pathname);
  await expect(ada.getByRole('heading', { name: '1 sitting' })).toBeVisible();
});
