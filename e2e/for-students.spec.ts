import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { type Class, drawn, dropOn, expect, test } from './story.ts';

const rowOf = (teacher: Page, c: Class, n: number) =>
  teacher.getByRole('row', { name: new RegExp(`, ${c.people[n]!.person.given} `) });

test('scans of a class are handed in by their names, looked over before; it is undone, and one is dropped on its line', async ({
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben', 'Cyd']);
  const teacher = await as(c.teacher);
  await teacher.goto(`/piles/${c.assignmentId}`);
  await teacher.getByRole('button', { name: 'Hand in for students …' }).click();
  const scan = readFileSync(made.written);
  const file = (name: string) => ({ name, mimeType: 'application/pdf', buffer: scan });
  const dialog = teacher.getByRole('dialog');
  await dialog
    .getByLabel('Files to hand in')
    .setInputFiles([file('ada.pdf'), file('scan of BEN 3.pdf'), file('scan 7.pdf'), file('ada.pdf')]);
  await expect(dialog.getByRole('listitem')).toHaveCount(4);
  await expect(dialog.getByText('the same name and size as another file here')).toHaveCount(1);
  await expect(dialog.getByText('1 file is nobody’s yet')).toBeVisible();
  await dialog.getByLabel('Student of scan 7.pdf').selectOption({ label: nameIn(c, 2) });
  await dialog.getByRole('button', { name: 'Hand in 3 files for 3 students' }).click();
  await expect(dialog).toHaveCount(0);
  for (const n of [0, 1, 2]) await expect(rowOf(teacher, c, n)).not.toContainText('with student');
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByText('Undone: they are as they were.')).toBeVisible();
  for (const n of [0, 1, 2]) await expect(rowOf(teacher, c, n)).toContainText('with student');

  // Dropped on a line it is for that student, whatever it is called.
  await dropOn(teacher, rowOf(teacher, c, 1), { name: 'IMG_0001.pdf', bytes: scan });
  await dialog.getByRole('button', { name: `Hand in 1 file for ${nameIn(c, 1)}` }).click();
  await expect(rowOf(teacher, c, 1)).not.toContainText('with student');
  // On one that is in nothing is taken.
  await dropOn(teacher, rowOf(teacher, c, 1), { name: 'again.pdf', bytes: scan });
  await expect(teacher.getByText(`${nameIn(c, 1)} has handed in already. Nothing was taken.`)).toBeVisible();

  const ben = await as(c.students[1]!);
  await ben.getByRole('link', { name: c.title }).click();
  await drawn(ben);
  await expect(ben.getByText(/^Tove .* handed it in for you\.$/)).toBeVisible();
  await teacher.getByRole('link', { name: /, Ben$/ }).click();
  await drawn(teacher);
  await expect(teacher.getByText(/handed in by Tove/)).toBeVisible();
});

const nameIn = (c: Class, n: number) => `${c.people[n]!.person.given} ${c.people[n]!.person.family}`;
