import { readFileSync } from 'node:fs';
import { drag, drawn, expect, markList, onPage, openDesk, Pen, saved, test, wave } from './story.ts';

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

  // Changed, and the comment in the copy that is not handed back follows.
  await teacher.goto('/bank');
  const line = teacher.getByRole('button', { name: 'Change “Say where you stand first.”' });
  await expect(line.locator('..')).toContainText('1 ×');
  await line.click();
  await teacher.getByLabel('Words', { exact: true }).fill('Say first where you stand.');
  await teacher.getByLabel(/^Change it also where it was used in 1 copy/).check();
  await teacher.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(teacher.getByText('1 comment says it anew.')).toBeVisible();
  await teacher.getByLabel('Find phrases').fill('stand frist');
  await expect(teacher.getByRole('button', { name: /^Change “/ })).toHaveCount(1);
  await teacher.getByRole('button', { name: 'Change “Say first where you stand.”' }).click();
  await teacher.getByRole('button', { name: 'Delete phrase' }).click();
  await expect(teacher.getByText('No phrase fits that.')).toBeVisible();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByRole('button', { name: 'Change “Say first where you stand.”' })).toBeVisible();
  await openDesk(teacher, c, 1);
  expect(await markList(teacher)).toEqual([expect.stringContaining('Say first where you stand.')]);

  const other = await as((await makeClass()).teacher);
  await other.goto('/bank');
  await expect(other.getByText('Nothing is in your bank yet.')).toBeVisible();
});

test('a stored phrase stands on a passage in two moves: the words, a key; with its focus and points; and the same with the keyboard alone', async ({
  onDesk,
}) => {
  const { c, teacher } = await onDesk();
  await teacher.goto('/bank');
  await teacher.getByLabel(/^Type a phrase/).fill('Which side is [words] on?');
  await teacher.getByRole('button', { name: 'Add', exact: true }).click();
  await teacher.getByRole('button', { name: /^Change “Which side/ }).click();
  await teacher.getByLabel('What it is about').fill('method');
  await teacher.getByLabel('Points').fill('-0,5');
  await teacher.getByLabel('Favourite').selectOption('3');
  await teacher.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(teacher.getByText('Alt 3')).toBeVisible();

  await openDesk(teacher, c);
  await teacher.keyboard.press('6');
  // Move one: the words. Move two: the key.
  await drag(teacher, [0.2, 0.085], [0.25, 0.085]);
  await teacher.keyboard.press('Alt+3');
  await expect(teacher.getByLabel('Words of the note')).toHaveValue(/^Which side is “.+” on\?$/);
  await teacher.keyboard.press('Escape');
  const note = teacher.getByRole('article', { name: /^Note/ });
  await expect(note).toContainText('−½');

  // With keys alone, and nothing typed.
  for (const key of ['t', 'ArrowDown', 'ArrowRight', 'Enter', 'Alt+3', 'Escape'])
    await teacher.keyboard.press(key);
  await saved(teacher);
  const marks = await markList(teacher);
  expect(marks).toHaveLength(2);
  for (const mark of marks) expect(mark).toMatch(/Which side is “.+” on\?/);
  await expect(teacher.getByRole('group', { name: 'Focuses' })).toContainText(/method\s*2/);

  // A remark written by hand is kept, found by its name, and put down as ink.
  await teacher.keyboard.press('1');
  const pen = await Pen.on(teacher);
  await pen.stroke(await wave(teacher, [0.5, 0.5], [0.7, 0.5]));
  await teacher.keyboard.press('h');
  await teacher.mouse.click(...(await onPage(teacher, 0.6, 0.5)));
  await teacher.getByRole('button', { name: 'Keep in the bank' }).click();
  await expect(teacher.getByText(/^Kept in your comment bank as “Handwritten 1”/)).toBeVisible();
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.3, 0.7)));
  await teacher.keyboard.type('hand');
  await expect(teacher.getByRole('list', { name: 'Phrases of your bank' })).toContainText('Handwritten 1');
  await teacher.keyboard.press('Tab');
  await expect(teacher.getByText('4 marks, 2 notes')).toBeVisible();
  await saved(teacher);
});

test('a bank is written out, and brought in by another teacher without doubles; two windows of one teacher show the same within moments', async ({
  makeClass,
  as,
}) => {
  const one = await as((await makeClass()).teacher);
  await one.goto('/bank');
  await one
    .getByLabel(/^Type a phrase/)
    .fill('Maps:\n- Count the squares.\n- Which way is north?\n- Say what you see.');
  await one.getByRole('button', { name: 'Add 3 phrases' }).click();
  await expect(one.getByRole('button', { name: /^Maps 3$/ })).toBeVisible();
  const file = async (button: string) => {
    const download = one.waitForEvent('download');
    await one.getByRole('button', { name: button }).click();
    return readFileSync(await (await download).path());
  };
  const json = await file('Save as file');
  expect((await file('Save as CSV')).toString('utf8')).toContain('Which way is north?');

  const login = (await makeClass()).teacher;
  const other = await as(login);
  const window2 = await as(login);
  await other.goto('/bank');
  await window2.goto('/bank');
  await other.getByLabel(/^Type a phrase/).fill('count the squares');
  await other.getByRole('button', { name: 'Add', exact: true }).click();
  // Well before a window asks by itself, once a minute.
  await expect(window2.getByRole('button', { name: /^Change “/ })).toHaveCount(1);
  const bringIn = (name: string, buffer: Buffer) =>
    other
      .getByLabel('A bank as a file, or a table of phrases')
      .setInputFiles({ name, mimeType: 'application/json', buffer });
  await bringIn('bank.json', json);
  const dialog = other.getByRole('dialog');
  await expect(dialog).toContainText('2 phrases are new. 1 is in your bank already and left out.');
  await dialog.getByRole('button', { name: 'Add 2 phrases' }).click();
  await expect(other.getByRole('button', { name: /^Maps 2$/ })).toBeVisible();
  await expect(window2.getByRole('button', { name: /^Change “/ })).toHaveCount(3);
  await bringIn('bank.json', json);
  await expect(dialog).toContainText('0 phrases are new.');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await bringIn('picture.json', Buffer.from('{"no": "bank"}'));
  await expect(other.getByText(/^This is no bank/)).toBeVisible();
});
