import type { Locator, Page } from '@playwright/test';
import { makeLesson } from './lesson.ts';
import {
  confirmHandIn,
  drawn,
  expect,
  handBackOne,
  onPage,
  openDeskOf,
  PASSWORD,
  saved,
  select,
  test,
} from './story.ts';

/** The teacher corrects a word of the first answer, asks a question beside the second, and hands the copy back. */
async function markAndHandBack(teacher: Page, grade: string): Promise<void> {
  await teacher.keyboard.press('7');
  await select(teacher, 'thier');
  await teacher.keyboard.type('their');
  await teacher.keyboard.press('Enter');
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.7, 0.46)));
  await teacher.getByLabel('Words of the note').fill('How do you know?');
  await teacher.keyboard.press('Escape');
  await teacher.getByLabel(/^Closing words/).fill('A good path.');
  await gradeAndBack(teacher, grade);
}

async function gradeAndBack(teacher: Page, grade: string): Promise<void> {
  await teacher.getByLabel(/^Grade/).fill(grade);
  await teacher.getByLabel(/^Grade/).press('Enter');
  await saved(teacher);
  await teacher.getByRole('button', { name: /^Marked/ }).click();
}

/** The pile of this work, from Today; and its one copy goes back. */
async function handBackFromPile(teacher: Page, title: string): Promise<void> {
  await teacher.goto('/');
  await teacher.getByRole('link', { name: title, exact: true }).first().click();
  await handBackOne(teacher);
}

const newest = (page: Page, words: string | RegExp) =>
  page.getByRole('list', { name: 'News' }).getByRole('listitem').filter({ hasText: words }).first();

test('the whole way on a telephone: answered, handed in, heard of, a suggestion accepted, a note answered, handed in again; the teacher sees what changed and hands back the second', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const lesson = await makeLesson(house, c, made.written);
  const ada = await as(c.students[0]!);
  await ada.setViewportSize({ width: 390, height: 844 });
  await ada.getByRole('link', { name: lesson.title }).click();
  await drawn(ada);
  await ada.getByLabel('Answer to 1').first().click();
  await ada.locator('#answer-large').fill('thier path goes over the hill');
  await ada.getByRole('button', { name: 'Next answer' }).click();
  await ada.locator('#answer-large').fill('Tarn Hut');
  await ada.getByRole('button', { name: 'Back to the page' }).click();
  await confirmHandIn(ada);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();

  const teacher = await as(c.teacher);
  await openDeskOf(teacher, lesson.title, /, Ada$/);
  await markAndHandBack(teacher, '2');
  await handBackFromPile(teacher, lesson.title);

  // She hears of it where she is, and comes from the news to the words.
  await expect(ada.getByText('A good path.')).toBeVisible();
  await ada.goto('/news');
  await newest(ada, 'is back.').getByRole('link').click();
  await expect(ada.getByText('A good path.')).toBeVisible();
  await ada.getByRole('button', { name: 'Note 1 ›' }).click();
  await drawn(ada);
  await ada.getByRole('button', { name: 'Accept', exact: true }).click();
  await expect(ada.getByText('1 of 2 done')).toBeVisible();
  await ada.getByRole('button', { name: 'Note 2 ›' }).click();
  await ada.getByLabel('Answer').fill('The sign on the map.');
  await ada.getByRole('button', { name: 'Send' }).click();
  await ada.getByRole('button', { name: 'Sorted' }).click();
  await expect(ada.getByText('2 of 2 done')).toBeVisible();
  await ada.getByRole('button', { name: 'Your pages ›' }).click();
  await drawn(ada);
  await ada.getByRole('button', { name: 'The grade ›' }).click();
  await expect(ada.getByText(/Grade\s*2\s*\/ 3/)).toBeVisible();

  // The teacher comes by the news to the very note.
  await teacher.goto('/news');
  await newest(teacher, 'answered a note').getByRole('link').click();
  await drawn(teacher);
  await expect(teacher.getByText('The sign on the map.')).toBeVisible();

  // The next draft begins with what she handed in, and what she accepted.
  await ada.getByRole('link', { name: 'Improve and hand in again' }).click();
  await drawn(ada);
  await expect(ada.getByLabel('Answer to 1').first()).toHaveValue('their path goes over the hill');
  await ada.getByLabel('Answer to 2').first().click();
  await ada.locator('#answer-large').fill('Tarn Hut, by its sign');
  await ada.getByRole('button', { name: 'Back to the page' }).click();
  await confirmHandIn(ada, 'I looked at the key.');
  expect(await ada.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);

  await teacher.goto('/news');
  await newest(teacher, 'again.').getByRole('link').click();
  await drawn(teacher);
  const changed = teacher.getByRole('region', { name: 'Changed since hand-in 1' });
  await expect(changed).toContainText('Questions with another answer: 1, 2.');
  await changed.getByText('Word by word').click();
  await expect(changed.getByRole('list', { name: 'Changes' })).toContainText('thier');
  const became = teacher.getByRole('region', { name: 'What became of it' });
  await expect(became).toContainText('Ada accepted it');
  await became.getByRole('button', { name: /thier/ }).click();
  await teacher.keyboard.press('s');
  await teacher.keyboard.press('s');
  await expect(became).toContainText('2 of 2 notes looked at');
  await gradeAndBack(teacher, '3');
  await handBackFromPile(teacher, lesson.title);

  await ada.goto('/news');
  await newest(ada, 'is back.').getByRole('link').click();
  const told = ada.getByRole('region', { name: 'What became of your notes' });
  await expect(told.getByText('dealt with')).toHaveCount(2);
  await expect(ada.getByText(/Grade\s*3/)).toHaveCount(0);
  // No note is left, and the words come first all the same.
  await ada.getByRole('button', { name: 'Your pages ›' }).click();
  await ada.getByRole('button', { name: 'The grade ›' }).click();
  await expect(ada.getByText(/Grade\s*3\s*\/ 3/)).toBeVisible();
});

/** Goes on with the Tab key until this has the keyboard. */
async function reach(page: Page, target: Locator): Promise<void> {
  await expect(target).toBeVisible();
  for (let i = 0; i < 150; i++) {
    if (await target.evaluate((e) => e === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`no key leads to ${target}`);
}

async function enter(page: Page, target: Locator): Promise<void> {
  await reach(page, target);
  await page.keyboard.press('Enter');
}

test('the whole way with the keyboard alone: signed in, answered, handed in, read, declined with a why, sorted, handed in again', async ({
  house,
  makeClass,
  as,
  browser,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const lesson = await makeLesson(house, c, made.written);
  const context = await browser.newContext({ baseURL: process.env.E2E_ADDRESS! });
  const ada = await context.newPage();
  await ada.goto('/');
  await reach(ada, ada.getByLabel('Login'));
  await ada.keyboard.type(c.students[0]!);
  await reach(ada, ada.getByLabel('Password'));
  await ada.keyboard.type(PASSWORD);
  await ada.keyboard.press('Enter');
  await enter(ada, ada.getByRole('link', { name: lesson.title }));
  await drawn(ada);
  await reach(ada, ada.getByLabel('Answer to 1'));
  await ada.keyboard.type('thier path goes over the hill');
  await reach(ada, ada.getByLabel('Answer to 2'));
  await ada.keyboard.type('Tarn Hut');
  const handIn = async () => {
    await enter(ada, ada.getByRole('banner').getByRole('button', { name: 'Hand in', exact: true }));
    await enter(ada, ada.getByRole('dialog').getByRole('button', { name: /^Hand in/ }));
  };
  await handIn();
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();

  const teacher = await as(c.teacher);
  await openDeskOf(teacher, lesson.title, /, Ada$/);
  await markAndHandBack(teacher, '2');
  await handBackFromPile(teacher, lesson.title);

  await expect(ada.getByText('A good path.')).toBeVisible();
  await drawn(ada);
  await ada.keyboard.press('n');
  await enter(ada, ada.getByRole('button', { name: 'Decline' }));
  await reach(ada, ada.getByLabel('Why not?'));
  await ada.keyboard.type('It is the old spelling.');
  await ada.keyboard.press('Enter');
  await expect(ada.getByText('1 of 2 done')).toBeVisible();
  await ada.keyboard.press('Escape');
  await ada.keyboard.press('n');
  await enter(ada, ada.getByRole('button', { name: 'Sorted' }));
  await expect(ada.getByText('2 of 2 done')).toBeVisible();
  await enter(ada, ada.getByRole('link', { name: 'Improve and hand in again' }));
  await drawn(ada);
  await reach(ada, ada.getByLabel('Answer to 3'));
  await ada.keyboard.type('By the key.');
  await handIn();

  await teacher.goto('/news');
  await newest(teacher, 'again.').getByRole('link').click();
  await expect(teacher.getByRole('region', { name: 'What became of it' })).toContainText(
    'It is the old spelling.',
  );
  await expect(teacher.getByRole('region', { name: 'Changed since hand-in 1' })).toContainText(
    'Questions with another answer: 3.',
  );
  await context.close();
});
