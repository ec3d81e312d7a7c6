import { drawn, expect, openDesk, saved, test } from './story.ts';

test('a comment is kept in the bank, stands below what is typed at the next copy, is filled and taken by Tab; another teacher has none of it', async ({
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben']);
  await laid(c, 0, made.written);
  await laid(c, 1, made.written);
  const teacher = await as(c.teacher);
  await teacher.goto('/bank');
  await teacher
    .getByLabel(/^Type a phrase/)
    .fill('Maps:\n- [name], count the squares again.\n- Which way is north?');
  await teacher.getByRole('button', { name: 'Add 2 phrases' }).click();
  await expect(teacher.getByRole('button', { name: /^Maps 2$/ })).toBeVisible();

  await openDesk(teacher, c);
  await teacher.keyboard.press('6');
  for (const key of ['t', 'ArrowRight', 'Enter']) await teacher.keyboard.press(key);
  await teacher.keyboard.type('aga squ');
  await expect(teacher.getByRole('list', { name: 'Phrases of your bank' })).toContainText(
    'count the squares',
  );
  await teacher.keyboard.press('Tab');
  const field = teacher.getByLabel('Words of the note');
  await expect(field).toHaveValue('Ada, count the squares again.');
  await field.fill('Say where you stand first.');
  await teacher.keyboard.press('Alt+k');
  await expect(teacher.getByText('Kept in your comment bank.')).toBeVisible();
  await teacher.keyboard.press('Escape');
  await saved(teacher);

  await teacher.keyboard.press('n');
  await expect(teacher.getByRole('heading', { level: 1, name: /^Ben/ })).toBeVisible();
  await drawn(teacher);
  await teacher.keyboard.press('6');
  for (const key of ['t', 'ArrowRight', 'Enter']) await teacher.keyboard.press(key);
  await teacher.keyboard.type('stand');
  await teacher.keyboard.press('Tab');
  await expect(field).toHaveValue('Say where you stand first.');
  await teacher.keyboard.press('Escape');
  await saved(teacher);

  await teacher.goto('/bank');
  const line = teacher.getByRole('button', { name: 'Change “Say where you stand first.”' });
  await expect(line).toContainText('1 ×');
  await line.click();
  await teacher.getByLabel('Words', { exact: true }).fill('Say first where you stand.');
  await teacher.getByRole('button', { name: 'Save' }).click();
  await teacher.getByLabel('Find phrases').fill('stand frist');
  await expect(teacher.getByRole('button', { name: /^Change “/ })).toHaveCount(1);
  await teacher.getByRole('button', { name: 'Change “Say first where you stand.”' }).click();
  await teacher.getByRole('button', { name: 'Take it out' }).click();
  await expect(teacher.getByText('No phrase fits that.')).toBeVisible();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByRole('button', { name: 'Change “Say first where you stand.”' })).toBeVisible();

  const other = await as((await makeClass()).teacher);
  await other.goto('/bank');
  await expect(other.getByText('Nothing is in your bank yet.')).toBeVisible();
});
