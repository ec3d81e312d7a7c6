import { makeLesson } from './lesson.ts';
import {
  confirmHandIn,
  drawn,
  expect,
  handBackOne,
  markList,
  openDeskOf,
  saved,
  select,
  test,
} from './story.ts';

/** A lesson whose first student has typed these answers and handed in, and the teacher at the desk. */
async function answered(
  {
    house,
    makeClass,
    as,
    made,
  }: Pick<Parameters<Parameters<typeof test>[2]>[0], 'house' | 'makeClass' | 'as' | 'made'>,
  ...answers: string[]
) {
  const c = await makeClass(['Ada']);
  const lesson = await makeLesson(house, c, made.written);
  const ada = await as(c.students[0]!);
  await ada.goto(`/work/${lesson.copyOf(0)}`);
  await drawn(ada);
  for (const [i, words] of answers.entries()) await ada.getByLabel(`Answer to ${i + 1}`).fill(words);
  await confirmHandIn(ada);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();
  const teacher = await as(c.teacher);
  const desk = () => openDeskOf(teacher, lesson.title, /, Ada$/);
  await desk();
  return { c, lesson, ada, teacher, desk };
}

test('a word is corrected by select, type, Enter; a sentence written anew becomes what changes in it; one note stands at five slips', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const { teacher } = await answered(
    { house, makeClass, as, made },
    'thier path goes over thier hill',
    'thier hut and thier brook by thier road',
    'we was walking to the hut',
  );
  await teacher.keyboard.press('7');
  await select(teacher, 'hill');
  await teacher.keyboard.type('ridge');
  await teacher.keyboard.press('Enter');
  // Put in, before the next words are selected.
  await expect(teacher.getByText('ridge').first()).toBeVisible();
  await saved(teacher);
  // The sentence anew: of five words one is another.
  await select(teacher, 'we', 'walking');
  await teacher.keyboard.press('Alt+r');
  await expect(teacher.getByLabel('Words instead')).toHaveValue('we was walking');
  await teacher.getByLabel('Words instead').fill('we were walking');
  await teacher.keyboard.press('Enter');
  await expect(teacher.getByText(/Only what changes is suggested/)).toBeVisible();
  expect((await markList(teacher)).map((m) => m.replace('p. 1: ', ''))).toEqual([
    '“hill” → “ridge”',
    '“was” → “were”',
  ]);

  // One slip is named, the four others are found.
  await teacher.keyboard.press('6');
  await select(teacher, 'thier');
  await teacher.getByLabel('Words of the note').fill('Look this word up.');
  await teacher.getByRole('button', { name: /^Also at 4 same places/ }).click();
  const note = teacher.getByRole('article', { name: /^Note/ });
  await expect(note).toContainText('5 ×');
  await teacher.keyboard.press('Escape');
  await saved(teacher);
  await teacher.reload();
  await drawn(teacher);
  await expect(note).toContainText('5 ×');
  await expect(teacher.getByText('3 marks, 1 note')).toBeVisible();
});

test('after the work came back a student answers a note, accepts a suggestion into the next draft and declines one; the teacher sees what is new and answers', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const { ada, teacher, desk, lesson } = await answered(
    { house, makeClass, as, made },
    'the rode is steep',
    'we saw thier hut',
  );
  await teacher.keyboard.press('7');
  for (const [from, to] of [
    ['rode', 'road'],
    ['thier', 'their'],
    ['steep', 'gentle'],
  ] as const) {
    await select(teacher, from);
    await teacher.keyboard.type(to);
    await teacher.keyboard.press('Enter');
  }
  await teacher.keyboard.press('6');
  await select(teacher, 'hut');
  await teacher.getByLabel('Words of the note').fill('Which **hut**?');
  await teacher.keyboard.press('Escape');
  await saved(teacher);
  await teacher.keyboard.press('Control+Enter');
  await handBackOne(teacher);

  await ada.reload();
  await drawn(ada);
  await expect(ada.getByText('0 of 4 done')).toBeVisible();
  const open = async (name: RegExp) => {
    await ada.getByRole('complementary').getByRole('button', { name }).click();
  };
  for (const change of [/rode/, /thier/]) {
    await open(change);
    await ada.getByRole('button', { name: 'Accept', exact: true }).click();
    await expect(ada.getByText('Changed in your next draft.').first()).toBeVisible();
  }
  await open(/steep/);
  await ada.getByRole('button', { name: 'Decline' }).click();
  await ada.getByLabel('Why not?').fill('It is steep there.');
  await ada.getByLabel('Why not?').press('Enter');
  await open(/Which hut/);
  await ada.getByLabel('Answer', { exact: true }).fill('The one by the brook.');
  await ada.getByLabel('Answer', { exact: true }).press('Control+Enter');
  await expect(ada.getByText('3 of 4 done')).toBeVisible();
  await ada.getByRole('link', { name: 'Improve and hand in again' }).click();
  await expect(ada.getByLabel('Answer to 1')).toHaveValue('the road is steep');
  await expect(ada.getByLabel('Answer to 2')).toHaveValue('we saw their hut');

  await teacher.goto('/');
  await expect(teacher.getByText('The one by the brook.')).toBeVisible();
  await desk();
  const note = teacher.getByRole('article', { name: /^Note/ });
  await expect(note).toContainText('1 new');
  await note.getByRole('button', { name: /1 new/ }).click();
  await teacher.getByLabel('Answer', { exact: true }).fill('Well found.');
  await teacher.getByRole('button', { name: 'Send' }).click();
  await ada.goto(`/work/${lesson.copyOf(0)}`);
  await drawn(ada);
  await open(/Which hut/);
  await expect(ada.getByText('Well found.').last()).toBeVisible();
  await ada.getByRole('button', { name: 'Sorted' }).click();
  await expect(ada.getByText('4 of 4 done')).toBeVisible();
});

test('while work goes on other words are proposed at a place and accepted in the living answer; what was said stays there, and tells whether it was read', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const lesson = await makeLesson(house, c, made.written);
  const ada = await as(c.students[0]!);
  await ada.goto(`/work/${lesson.copyOf(0)}`);
  await drawn(ada);
  await ada.getByLabel('Answer to 1').fill('the rode is steep');
  const teacher = await as(c.teacher);
  await teacher.goto(`/room/${lesson.assignmentId}/${lesson.copyOf(0)}`);
  await drawn(teacher);
  const answer = teacher.getByLabel('Answer to 1');
  await expect(answer).toHaveValue('the rode is steep');
  await answer.evaluate((el: HTMLInputElement) => el.setSelectionRange(4, 8));
  const at = (await answer.boundingBox())!;
  await answer.dispatchEvent('pointerup', { bubbles: true, clientX: at.x + 60, clientY: at.y + 10 });
  await teacher.getByRole('button', { name: 'Suggest a change' }).click();
  await teacher.getByLabel('Replace with').fill('road');
  await teacher.getByLabel('Message at this place').fill('Two words sound the same.');
  await teacher.getByRole('button', { name: 'Send now' }).click();
  await expect(teacher.getByText('not read yet').first()).toBeVisible();
  await ada.getByRole('button', { name: 'Accept' }).click();
  await expect(ada.getByLabel('Answer to 1')).toHaveValue('the road is steep');
  await expect(answer).toHaveValue('the road is steep');
  await expect(teacher.getByText('accepted a suggestion')).toBeVisible();

  // A moment of the way is spoken about too.
  await teacher.getByRole('link', { name: 'Working trail' }).click();
  await teacher.getByLabel('Moment of the trail').fill('1');
  await teacher.getByLabel('Message about this moment').fill('Here you began well.');
  await teacher.getByRole('button', { name: 'Send' }).click();
  await expect(teacher.getByRole('region', { name: 'Messages about moments' })).toContainText(
    'Here you began well.',
  );

  await confirmHandIn(ada);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();
  await openDeskOf(teacher, lesson.title, /, Ada$/);
  const said = { name: /^Message at this place: Two words/ };
  await teacher.getByRole('button', said).click();
  await expect(teacher.getByText('Two words sound the same.').last()).toBeVisible();
  await ada.getByRole('button', said).click();
  await expect(ada.getByText('Two words sound the same.').last()).toBeVisible();
});
