import { makeLesson } from './lesson.ts';
import { confirmHandIn, drawn, expect, handBackOne, onPage, saved, test } from './story.ts';

test('a teacher tries work out alone: fills it in, hands it in, marks it, gets it back; it counts nowhere and goes in one move', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const lesson = await makeLesson(house, c, made.written);
  const teacher = await as(c.teacher);
  await teacher.goto(`/assignments/${lesson.assignmentId}`);
  const trial = teacher.getByRole('region', { name: 'Trial run' });
  await trial.getByRole('button', { name: 'Start a trial run' }).click();
  await expect(teacher.getByText('Trial run: you are the student here.')).toBeVisible();
  await drawn(teacher);
  await teacher.getByLabel('Answer to 1').fill('Tarn Hut');
  await confirmHandIn(teacher);
  await expect(teacher.getByText('Handed in', { exact: true })).toBeVisible();

  await teacher.getByRole('link', { name: 'Mark it' }).click();
  await drawn(teacher);
  await expect(teacher.getByRole('toolbar', { name: 'Pen tray' })).toBeVisible();
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.7, 0.4)));
  await teacher.getByLabel('Words of the note').fill('Room enough for two words.');
  await teacher.keyboard.press('Escape');
  await saved(teacher);
  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await teacher.goto(`/assignments/${lesson.assignmentId}`);
  await trial.getByRole('link', { name: /^Its pile/ }).click();
  await handBackOne(teacher);
  await teacher.goto(`/assignments/${lesson.assignmentId}`);
  await trial.getByRole('link', { name: /^Your copy/ }).click();
  await drawn(teacher);
  await expect(teacher.getByRole('region', { name: 'Your turn' })).toContainText(
    'Room enough for two words.',
  );

  // Nobody knows of it, and it counts nowhere.
  await teacher.goto('/');
  await expect(teacher.getByText(lesson.title)).toHaveCount(0);
  await teacher.goto('/news');
  await expect(teacher.getByText('Room enough for two words.')).toHaveCount(0);
  const ada = await as(c.students[0]!);
  await expect(ada.getByRole('link', { name: lesson.title })).toHaveCount(1);

  await teacher.goto(`/assignments/${lesson.assignmentId}`);
  await trial.getByRole('button', { name: 'End the trial run' }).click();
  await expect(teacher.getByText('The trial run is gone, with all you did in it.')).toBeVisible();
  await expect(trial.getByRole('button', { name: 'Start a trial run' })).toBeVisible();
});
