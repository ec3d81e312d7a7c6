import { execFileSync } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import { newId } from '@jotmark/server';
import { makeLesson } from './lesson.ts';
import { confirmHandIn, drawn, dropOn, expect, openDeskOf, saved, test, testFolder } from './story.ts';

const DAY = 86_400_000;

test('a date of last week is no date of next week, and late follows the date that holds now', async ({
  house,
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const due = (ahead: number) =>
    house.db.query('UPDATE assignment SET due_at = ? WHERE id = ?', [
      new Date(Date.now() + ahead),
      c.assignmentId,
    ]);
  const weekday = (ahead: number) =>
    new Intl.DateTimeFormat('en-GB', { weekday: 'short', timeZone: house.settings.school.timeZone }).format(
      Date.now() + ahead,
    );
  const ada = await as(c.students[0]!);
  // In four days it is a weekday; four days ago it is a day of the month.
  await due(4 * DAY);
  await ada.reload();
  await expect(ada.getByText(new RegExp(`due ${weekday(4 * DAY)} \\d`))).toBeVisible();
  await due(-8 * DAY);
  await ada.reload();
  await expect(ada.getByText(/was due \d{1,2} [A-Z][a-z]{2}/)).toBeVisible();

  await laid(c, 0, made.written);
  const teacher = await as(c.teacher);
  await teacher.goto(`/piles/${c.assignmentId}`);
  const row = teacher.getByRole('row', { name: /, Ada/ });
  // A greyed button says why.
  await expect(teacher.getByRole('button', { name: 'Hand back', exact: true })).toHaveAttribute(
    'title',
    /^No copy is marked yet/,
  );
  await expect(row).toContainText('late 8 days');
  await teacher.getByLabel('Choose all').check();
  await teacher.getByRole('button', { name: 'Own due date' }).click();
  const later = new Date(Date.now() + 30 * DAY).toISOString().slice(0, 16);
  await teacher.getByLabel('Own due date').fill(later);
  await teacher.getByRole('button', { name: 'Set this due date' }).click();
  await expect(row).not.toContainText('late');
});

test('saving set work says at once what students see of it; inks have the names that everybody knows', async ({
  onDesk,
}) => {
  const { c, teacher } = await onDesk();
  await teacher.getByRole('button', { name: /^Tray: / }).click();
  await teacher.getByRole('menuitem', { name: 'Edit pens …' }).click();
  for (const ink of ['red', 'blue', 'green', 'yellow', 'purple'])
    await expect(teacher.getByRole('dialog').getByRole('radio', { name: ink, exact: true })).toBeVisible();
  await teacher.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click();
  await teacher.goto(`/assignments/${c.assignmentId}`);
  await teacher.getByLabel('Title', { exact: true }).fill(`${c.title}, second part`);
  await teacher.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(teacher.getByText('Saved. Students see the new title.')).toBeVisible();
});

test('nothing that others feel is one slip away: passwords are asked about, archiving and leaving a class are undone', async ({
  makeClass,
  as,
}) => {
  const c = await makeClass(['Ada']);
  const teacher = await as(c.teacher);
  await teacher.goto('/classes');
  await teacher.getByRole('link', { name: /1 student/ }).click();
  await teacher.getByRole('button', { name: `Archive ${c.title}` }).click();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByRole('link', { name: c.title, exact: true })).toBeVisible();
  await teacher.getByRole('link', { name: /^Register/ }).click();
  await teacher.getByRole('button', { name: /^New password for Ada/ }).click();
  const asked = teacher.getByRole('dialog', { name: 'Make a new password for Ada?' });
  await expect(asked).toContainText('stops working at once');
  await asked.getByRole('button', { name: 'Cancel' }).click();
  // The one she has is still hers.
  await as(c.students[0]!);
  await teacher.getByRole('button', { name: /^Remove Ada .* from the class$/ }).click();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByRole('heading', { name: '1 student' })).toBeVisible();
});

test('a file that is dropped where none is taken leaves the page as it is', async ({ makeClass, as }) => {
  const c = await makeClass(['Ada']);
  const teacher = await as(c.teacher);
  await dropOn(teacher, teacher.getByRole('main'), { name: 'notes.txt', bytes: Buffer.from('words') });
  await expect(teacher).toHaveURL(/\/$/);
  await expect(teacher.getByRole('heading', { level: 1, name: 'Today' })).toBeVisible();
});

test('what a student types stands in the printed form letter by letter: signs of maths, other scripts, right to left', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const lesson = await makeLesson(house, c, made.written);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: lesson.title }).click();
  await drawn(ada);
  await ada.getByLabel('Answer to 1').fill('a → b ≠ c ≥ √2 π ½');
  await ada.getByLabel('Answer to 2').fill('Größe 好 Привет');
  await ada.getByLabel('Answer to 3').fill('שלום 25');
  await saved(ada);
  await confirmHandIn(ada);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();
  const teacher = await as(c.teacher);
  await openDeskOf(teacher, lesson.title, /, Ada$/);
  const fold = teacher.locator('details', { hasText: 'As a PDF' });
  if (!(await fold.evaluate((d) => (d as HTMLDetailsElement).open)))
    await teacher.getByText('As a PDF').click();
  const download = teacher.waitForEvent('download');
  await teacher.getByRole('button', { name: 'PDF for printing, notes on an extra page' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toMatch(/, to print\.pdf$/);
  const words = execFileSync('pdftotext', ['-layout', await file.path(), '-'], { encoding: 'utf8' });
  for (const letters of ['→', '≠', '≥', '√2', 'π', '½', 'Größe', '好', 'Привет', 'שלום', '25'])
    expect(words).toContain(letters);
});

test('places on a worksheet: boxes in a line, short lines in one row, cells of a table; a region that is drawn reads its number', async ({
  house,
  makeClass,
  as,
}) => {
  const c = await makeClass(['Ada']);
  const pdf = await PDFDocument.create();
  const page = pdf.addPage([595, 842]);
  const font = await pdf.embedFont(StandardFonts.Helvetica);
  const say = (text: string, x: number, y: number) => page.drawText(text, { x, y: 842 - y, size: 12, font });
  say('1 Which of them flies by night? (1 point)', 60, 112);
  for (const [i, name] of ['owl', 'wren', 'gull'].entries()) {
    page.drawRectangle({ x: 60 + 90 * i, y: 842 - 142, width: 10, height: 10, borderWidth: 0.8 });
    say(name, 76 + 90 * i, 140);
  }
  say('2 Fill in. (4 points)', 60, 190);
  say('a) __________', 60, 220);
  say('b) __________', 300, 220);
  say('c) __________', 60, 250);
  say('d) __________', 300, 250);
  say('3 a) What does the owl eat? (1 point)', 60, 330);
  const file = testFolder(`places-${newId(house)}.pdf`);
  await writeFile(file, await pdf.save());
  const teacher = await as(c.teacher);
  await teacher.goto('/worksheets');
  await teacher.getByLabel('File for a new worksheet').setInputFiles(file);
  await drawn(teacher);
  const found = teacher.getByRole('button', { name: /^Place found/ });
  await expect(found).toHaveCount(5);
  await expect(teacher.getByRole('button', { name: 'Place found: choice, 1. Accept it' })).toBeVisible();
  for (const part of ['2a', '2b', '2c', '2d'])
    await expect(
      teacher.getByRole('button', { name: new RegExp(`^Place found: .*, ${part}\\.`) }),
    ).toBeVisible();
  await teacher.getByRole('button', { name: /^Accept all 5 places/ }).click();
  const sheet = (await teacher.getByRole('group', { name: /^Page 1/ }).boundingBox())!;
  const at = (x: number, y: number) =>
    [sheet.x + (sheet.width * x) / 595, sheet.y + (sheet.height * y) / 842] as const;
  await teacher.mouse.move(...at(80, 340));
  await teacher.mouse.down();
  await teacher.mouse.move(...at(400, 366), { steps: 5 });
  await teacher.mouse.up();
  await expect(teacher.getByRole('button', { name: /^Question 3a/ })).toBeVisible();
  await expect(teacher.getByRole('status', { name: 'Points' })).toContainText(/points in 6 questions/);
});
