import { writeFile } from 'node:fs/promises';
import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import { makeId, type Question, type QuestionId } from '@jotmark/core';
import { newId } from '@jotmark/server';
import { makeLesson } from './lesson.ts';
import {
  chooseOwn,
  drawn,
  dropOn,
  expect,
  handBackOne,
  markedAndBack,
  openDesk,
  openDeskOf,
  PASSWORD,
  saved,
  test,
  testFolder,
} from './story.ts';

/** Each of these was once wrong on the screen, as its title says it right. */

test('a blind copy with a name on its page: told before marking, covered, and shown only when asked for', async ({
  house,
  makeClass,
  as,
  laid,
}) => {
  const c = await makeClass(['Ada']);
  const { given, family } = c.people[0]!.person;
  const pdf = await PDFDocument.create();
  const page = pdf.addPage([595, 842]);
  const font = await pdf.embedFont(StandardFonts.Helvetica);
  page.drawText(`${given} ${family}`, { x: 72, y: 780, size: 14, font });
  page.drawText('The hill is steep on the north side.', { x: 72, y: 700, size: 12, font });
  const file = testFolder(`named-${newId(house)}.pdf`);
  await writeFile(file, await pdf.save());
  await laid(c, 0, file);
  const teacher = await as(c.teacher);
  await teacher.goto(`/piles/${c.assignmentId}`);
  await teacher.getByLabel(/^Mark blind/).check();
  await teacher.getByRole('link', { name: /, Copy$/ }).click();
  await drawn(teacher);
  const told = teacher.getByText('A student’s name stands on page 1. It is covered.');
  await expect(told).toBeVisible();
  const cover = teacher.locator('[data-cover]').first();
  const box = (await cover.boundingBox())!;
  const sheet = (await teacher.getByRole('group', { name: /^Page 1 of/ }).boundingBox())!;
  // Where the name was written: 72 from the left, 62 from the top, of 595 × 842.
  expect((box.x - sheet.x) / sheet.width).toBeCloseTo(72 / 595, 1);
  expect((box.y - sheet.y) / sheet.height).toBeCloseTo(50 / 842, 1);
  await teacher.getByRole('button', { name: 'Show the name' }).click();
  await expect(cover).toHaveCount(0);
  await teacher.getByRole('button', { name: 'Cover the name' }).click();
  await expect(cover).toBeVisible();
});

test('a copy that is taken back while the teacher looks at it is told at the desk at once', async ({
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben']);
  await laid(c, 0, made.written);
  await laid(c, 1, made.written);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  await ada.getByRole('button', { name: 'Take back' }).click();
  const told = teacher.getByRole('dialog', { name: /^Ada .* has taken this copy back$/ });
  await expect(told).toContainText('nothing was marked on it');
  await told.getByRole('link', { name: 'Next copy' }).click();
  await expect(teacher.getByRole('heading', { level: 1, name: /^Ben/ })).toBeVisible();
});

test('who leaves a class keeps a line below its pile and what came back; who joins late gets a copy; a name is corrected', async ({
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben']);
  await laid(c, 0, made.written);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  await teacher.getByLabel(/^Grade/).fill('7');
  await saved(teacher);
  await markedAndBack(teacher, c);
  await teacher.goto('/classes');
  await teacher.getByRole('link', { name: /2 students/ }).click();
  await teacher.getByRole('link', { name: /^Register/ }).click();
  await teacher.getByRole('button', { name: /^Remove Ada .* from the class$/ }).click();
  await teacher.getByLabel(/^Names, one a line/).fill('Zoe de la Torre');
  await teacher.getByRole('button', { name: 'Add 1 student' }).click();
  const slip = teacher.getByRole('region', { name: 'First passwords' }).getByRole('listitem');
  await expect(slip).toBeVisible();
  const [login, password] = await slip.getByRole('definition').allInnerTexts();
  await teacher.getByRole('button', { name: 'Done' }).click();
  await teacher.getByRole('dialog').getByRole('button', { name: 'Leave without printing' }).click();

  // Her name was spelled wrong, and the login is too long for her.
  await teacher.getByRole('button', { name: /^Correct name or login of Zoe/ }).click();
  const dialog = teacher.getByRole('dialog');
  await dialog.getByLabel(/^Given name/).fill('Zoë');
  const short = `zoe-${c.title.slice(-6)}`;
  await dialog.getByLabel('Login').fill(c.students[1]!);
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByRole('alert')).toContainText('belongs to somebody else. Nothing was changed.');
  await dialog.getByLabel('Login').fill(short);
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(teacher.getByText(`Zoë signs in as ${short} from now on. The password stays.`)).toBeVisible();
  await expect(teacher.getByRole('link', { name: 'de la Torre, Zoë' })).toBeVisible();
  expect(login).not.toBe(short);

  const zoe = await as(short, password);
  await chooseOwn(zoe);
  await expect(zoe.getByRole('link', { name: c.title })).toBeVisible();
  // From now on the sheet's password is none.
  await as(short, 'a hill by the sea');
  const ada = await as(c.students[0]!, PASSWORD);
  await expect(ada.getByRole('link', { name: c.title })).toBeVisible();

  await teacher.goto(`/piles/${c.assignmentId}`);
  await expect(teacher.getByRole('row', { name: /de la Torre, Zoë/ })).toBeVisible();
  await expect(teacher.getByRole('row', { name: /Ada/ })).toHaveCount(0);
  await teacher.getByText('1 student has left the class').click();
  await expect(teacher.getByRole('listitem').filter({ hasText: ', Ada' })).toContainText('handed back · 7');
});

test('how a work came back before it was improved is found by its student and by its teacher', async ({
  onDesk,
  as,
}) => {
  const { c, teacher } = await onDesk();
  await teacher.getByLabel(/^Closing words/).fill('A good start.');
  await teacher.getByLabel(/^Grade/).fill('6');
  await saved(teacher);
  await markedAndBack(teacher, c);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  await ada.getByRole('link', { name: 'Improve and hand in again' }).click();
  await ada
    .getByRole('banner')
    .getByRole('button', { name: /^Hand in/ })
    .click();
  await ada.getByRole('dialog').getByRole('button', { name: 'Hand in again' }).click();
  await openDeskOf(teacher, c.title, /, Ada$/);
  // What lies beside the copy leads to what went back.
  await teacher.getByRole('button', { name: 'Compare with …' }).click();
  await teacher.getByRole('link', { name: 'With grade and words' }).click();
  await expect(teacher.getByText('A good start.')).toBeVisible();
  await expect(teacher.getByText('6 / 10')).toBeVisible();
  await teacher.getByRole('link', { name: 'Back to the desk' }).click();
  await drawn(teacher);
  await teacher.getByLabel(/^Closing words/).fill('Much better.');
  await teacher.getByLabel(/^Grade/).fill('9');
  await saved(teacher);
  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await handBackOne(teacher);
  await ada.goto('/');
  await ada.getByRole('link', { name: c.title }).click();
  await expect(ada.getByText('Much better.')).toBeVisible();
  await ada
    .getByRole('region', { name: 'How it came back before' })
    .getByRole('link', { name: 'Hand-in 1' })
    .click();
  await expect(ada.getByText('A good start.')).toBeVisible();
  await expect(ada.getByText('6 / 10')).toBeVisible();
  await ada.getByRole('link', { name: 'Back to the newest' }).click();
  await expect(ada.getByText('Much better.')).toBeVisible();
});

test('on a telephone choices are as large as a finger, one and several, and marked notes are numbers on the page', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const choice = (row: number, several: boolean): Question => ({
    id: makeId(Date.now(), crypto.getRandomValues(new Uint8Array(10))) as QuestionId,
    page: 0,
    box: [60, 300 + 60 * row, 420, 330 + 60 * row],
    part: false,
    label: null,
    points: 100,
    answer: { kind: 'choice', options: ['north', 'east', 'the sea'], several },
  });
  const lesson = await makeLesson(house, c, made.written, [choice(0, false), choice(1, true)]);
  const ada = await as(c.students[0]!);
  await ada.setViewportSize({ width: 390, height: 844 });
  await ada.getByRole('link', { name: lesson.title }).click();
  await drawn(ada);
  await ada.getByRole('button', { name: 'Answer to 1: choose' }).click();
  const large = ada.getByRole('group', { name: 'Choices of 1' });
  const north = large.getByRole('button', { name: 'north' });
  expect((await north.boundingBox())!.height).toBeGreaterThanOrEqual(44);
  await north.click();
  await large.getByRole('button', { name: 'east' }).click();
  await expect(north).toHaveAttribute('aria-pressed', 'false');
  await ada.getByRole('button', { name: 'Next answer' }).click();
  const two = ada.getByRole('group', { name: 'Choices of 2' });
  await two.getByRole('button', { name: 'north' }).click();
  await two.getByRole('button', { name: 'the sea' }).click();
  await ada.getByRole('button', { name: 'Back to the page' }).click();
  await expect(ada.getByRole('button', { name: 'Answer to 1: east' })).toBeVisible();
  await expect(ada.getByRole('button', { name: 'Answer to 2: north, the sea' })).toBeVisible();
  await saved(ada);
  await ada.getByRole('banner').getByRole('button', { name: 'Hand in', exact: true }).click();
  await ada
    .getByRole('dialog')
    .getByRole('button', { name: /^Hand in/ })
    .click();

  const teacher = await as(c.teacher);
  await openDeskOf(teacher, lesson.title, /, Ada$/);
  await teacher.keyboard.press('5');
  const sheet = (await teacher.getByRole('group', { name: /^Page 1 of/ }).boundingBox())!;
  await teacher.mouse.click(sheet.x + sheet.width * 0.5, sheet.y + sheet.height * 0.4);
  await teacher.keyboard.type('How do you know?');
  await teacher.keyboard.press('Escape');
  await teacher.getByLabel(/^Grade/).fill('2');
  await saved(teacher);
  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await handBackOne(teacher);
  await ada.goto('/');
  await ada.getByRole('link', { name: lesson.title }).click();
  await ada.getByRole('button', { name: 'Note 1 ›' }).click();
  await drawn(ada);
  const page = (await ada.getByRole('group', { name: /^Page 1 of/ }).boundingBox())!;
  // Over the whole width of the screen, and more where one reads a note.
  expect(page.width).toBeGreaterThan(360);
  await expect(ada.getByRole('button', { name: 'Note 1', exact: true })).toHaveAttribute(
    'aria-current',
    'true',
  );
  await expect(ada.getByRole('article')).toContainText('How do you know?');
});

test('a draft that was begun and left empty is nowhere; a file dropped anywhere on an assignment is taken', async ({
  makeClass,
  as,
}) => {
  const c = await makeClass(['Ada']);
  const teacher = await as(c.teacher);
  await teacher.goto('/classes');
  await teacher.getByRole('link', { name: /1 student/ }).click();
  await teacher.getByRole('button', { name: 'New assignment' }).click();
  await teacher.getByRole('textbox', { name: 'Instructions' }).waitFor();
  await teacher.goBack();
  await expect(teacher.getByRole('link', { name: c.title, exact: true })).toBeVisible();
  await expect(teacher.getByText('Without a title yet')).toHaveCount(0);
  await teacher.getByRole('button', { name: 'New assignment' }).click();
  await teacher.getByRole('textbox', { name: 'Instructions' }).waitFor();
  const notes = { name: 'notes.txt', bytes: Buffer.from('The owl sleeps by day.') };
  await dropOn(teacher, teacher.getByText('Worksheets and materials'), notes);
  await expect(
    teacher
      .getByRole('link', { name: /notes\.txt/ })
      .or(teacher.getByText('notes.txt'))
      .first(),
  ).toBeVisible();
});
