import { objectionsTo } from './axe.ts';
import { atEveryWidth } from './every-width.ts';
import { drag, drawn, expect, handBackOne, markList, onPage, openDesk, saved, test } from './story.ts';

test('words are found on the pages, marks are chosen from the list, and each part of the desk folds', async ({
  onDesk,
}) => {
  const { teacher } = await onDesk();
  await teacher.keyboard.press('/');
  await teacher.getByLabel('Find on the pages').fill('SIDE');
  await expect(teacher.getByText('1 of 2', { exact: true })).toBeVisible();
  await teacher.keyboard.press('Enter');
  await expect(teacher.getByText('2 of 2', { exact: true })).toBeVisible();
  await teacher.getByLabel('Find on the pages').fill('no such word');
  await expect(teacher.getByText('not found')).toBeVisible();
  await teacher.keyboard.press('Escape');
  await expect(teacher.getByLabel('Find on the pages')).toHaveCount(0);

  await teacher.keyboard.press('p');
  await teacher.keyboard.press('2');
  for (const y of [0.3, 0.35, 0.4]) await teacher.mouse.click(...(await onPage(teacher, 0.5, y)));
  await teacher.keyboard.press('3');
  await drag(teacher, [0.2, 0.5], [0.4, 0.5]);
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.3, 0.6)));
  await teacher.getByLabel('Words of the note').fill('Which hill?');
  await teacher.keyboard.press('Escape');
  expect(await markList(teacher)).toHaveLength(5);
  await teacher.getByLabel('Kind of marks').selectOption('stamps');
  expect(await markList(teacher)).toEqual(['p. 1: tick', 'p. 1: tick', 'p. 1: tick']);
  await teacher.getByLabel('Kind of marks').selectOption('all kinds');
  await teacher.getByLabel('What they are about').selectOption('method');
  expect(await markList(teacher)).toEqual(['p. 1: free highlight']);
  await teacher.getByLabel('What they are about').selectOption('any focus');
  await teacher.getByLabel('Search the marks').fill('HILL');
  expect(await markList(teacher)).toEqual(['p. 1: note: Which hill?']);
  await teacher.getByRole('button', { name: 'p. 1: note: Which hill?' }).click();
  await expect(teacher.getByRole('article', { name: 'Note, accuracy' })).toBeVisible();

  // A note folds by itself, the margin, the strip and the slip by their keys, and all of it is so after a reload.
  await teacher.getByRole('button', { name: 'Fold', exact: true }).click();
  await expect(teacher.getByRole('button', { name: 'Note, accuracy: Which hill?' })).toBeVisible();
  await saved(teacher);
  for (const key of ['s', 'i', 'f']) await teacher.keyboard.press(key);
  await expect(teacher.getByRole('complementary', { name: 'Score slip' })).toHaveCount(0);
  await teacher.getByRole('button', { name: 'Layout' }).click();
  await teacher.getByRole('menuitem', { name: /^Dark table/ }).click();
  await teacher.reload();
  await drawn(teacher);
  await expect(teacher.getByRole('complementary', { name: 'Score slip' })).toHaveCount(0);
  await teacher.getByRole('button', { name: 'Layout' }).click();
  await expect(teacher.getByRole('menuitem', { name: /^Dark table.*on$/ })).toBeVisible();
  await teacher.keyboard.press('Escape');
  expect(await objectionsTo(teacher)).toEqual([]);
});

test('slip, strip and margin are pulled to their sizes, by hand and by keys, and keep them', async ({
  onDesk,
}) => {
  const { teacher } = await onDesk();
  const width = async (name: string) =>
    Number(await teacher.getByRole('separator', { name }).first().getAttribute('aria-valuenow'));
  const pull = async (name: string, by: number) => {
    const { x, y, height, width } = (await teacher.getByRole('separator', { name }).first().boundingBox())!;
    await teacher.mouse.move(x + width / 2, y + height / 2);
    await teacher.mouse.down();
    await teacher.mouse.move(x + width / 2 + by, y + height / 2, { steps: 4 });
    await teacher.mouse.up();
  };
  await pull('Width of the score slip', -60);
  expect(await width('Width of the score slip')).toBe(346);
  const slip = teacher.getByRole('complementary', { name: 'Score slip' });
  expect((await slip.boundingBox())!.width).toBe(346);
  await pull('Width of the copies', 100);
  await expect(teacher.getByRole('navigation', { name: 'Copies' })).toContainText('Ada');
  // A copy is found by typing a name.
  await teacher.keyboard.press('Shift+N');
  await expect(teacher.getByLabel('Find a copy by name')).toBeFocused();
  await teacher.keyboard.type('nobody');
  await expect(teacher.getByText('No copy of that name.')).toBeVisible();
  await teacher.getByLabel('Find a copy by name').fill('ad');
  await teacher.keyboard.press('Enter');
  await expect(
    teacher.getByRole('navigation', { name: 'Copies' }).getByRole('link', { name: /^Ada/ }),
  ).toHaveAttribute('aria-current', 'page');
  await pull('Width of the margin', -500);
  expect(await width('Width of the margin')).toBe(420);
  // The paper gives way: page and margin still fit side by side.
  const scroller = teacher.getByRole('region', { name: 'Pages of the copy' });
  expect(await scroller.evaluate((s) => s.scrollWidth - s.clientWidth)).toBe(0);
  await teacher.getByRole('separator', { name: 'Width of the margin' }).first().press('ArrowRight');
  expect(await width('Width of the margin')).toBe(408);
  await teacher.reload();
  await drawn(teacher);
  expect(await width('Width of the score slip')).toBe(346);
  expect(await width('Width of the copies')).toBe(176);
  expect(await width('Width of the margin')).toBe(408);
});

test('after a mistake one goes back to how the marking stood, and that can be undone too', async ({
  onDesk,
}) => {
  const { teacher } = await onDesk();
  await teacher.keyboard.press('p');
  await teacher.keyboard.press('2');
  for (const y of [0.3, 0.35, 0.4]) await teacher.mouse.click(...(await onPage(teacher, 0.5, y)));
  await teacher.keyboard.press('g');
  await teacher.keyboard.type('7');
  await teacher.keyboard.press('Enter');
  // The mistake: all of it goes.
  await teacher.keyboard.press('Control+a');
  await teacher.keyboard.press('Delete');
  await expect(teacher.getByText('0 marks, 0 notes')).toBeVisible();
  await saved(teacher);
  await teacher.reload();
  await drawn(teacher);
  await teacher.getByRole('button', { name: 'Earlier versions' }).click();
  const step = teacher.getByLabel('Version of the marking');
  await expect(step).toHaveAttribute('max', '7');
  await step.fill('4');
  await expect(teacher.getByText('After 4 of 7 steps')).toBeVisible();
  await expect(teacher.getByText('3 marks, 0 notes').last()).toBeVisible();
  await expect(teacher.getByLabel(/^Grade/)).toHaveValue('7');
  await teacher.keyboard.press('Escape');
  await expect(step).toHaveCount(0);
  await expect(teacher.getByText('0 marks, 0 notes')).toBeVisible();
  await teacher.getByRole('button', { name: 'Earlier versions' }).click();
  await step.fill('2');
  await teacher.getByRole('button', { name: 'Restore this version' }).click();
  expect(await markList(teacher)).toEqual(['p. 1: tick', 'p. 1: tick']);
  await expect(teacher.getByLabel(/^Grade/)).toHaveValue('');
  await saved(teacher);
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByText('0 marks, 0 notes')).toBeVisible();
  await expect(teacher.getByLabel(/^Grade/)).toHaveValue('7');
  await saved(teacher);
});

test('an earlier hand-in with its marks, and the documents of this one, lie beside the copy', async ({
  onDesk,
  as,
}) => {
  const { c, teacher } = await onDesk();
  const ada = await as(c.students[0]!);
  await teacher.keyboard.press('p');
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.3, 0.5)));
  await teacher.getByLabel('Words of the note').fill('Measure again.');
  await teacher.keyboard.press('Escape');
  await saved(teacher);
  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await handBackOne(teacher);
  await ada.goto('/');
  await ada.getByRole('link', { name: c.title }).click();
  await ada.getByRole('link', { name: 'Improve and hand in again' }).click();
  await ada.getByRole('banner').getByRole('button', { name: 'Hand in', exact: true }).click();
  await ada
    .getByRole('dialog')
    .getByRole('button', { name: /^Hand in/ })
    .click();
  await expect(ada.getByText('Handed in again', { exact: true })).toBeVisible();

  await openDesk(teacher, c);
  await expect(teacher.getByText('0 marks, 0 notes')).toBeVisible();
  await teacher.keyboard.press('y');
  const beside = teacher.getByRole('region', { name: 'Beside the copy' });
  await expect(beside.getByRole('combobox', { name: 'Comparison' })).toContainText('hand-in 1');
  await beside.getByRole('button', { name: 'Note, accuracy: Measure again.' }).click();
  await expect(beside.getByRole('article')).toContainText('Measure again.');
  await expect(teacher.getByText('0 marks, 0 notes')).toBeVisible();
  await beside.getByRole('combobox', { name: 'Comparison' }).selectOption({ index: 1 });
  await expect(beside.getByRole('group', { name: 'Page 1 of 2' })).toBeVisible();
  await atEveryWidth(teacher, 'comparing');
  await teacher.getByRole('button', { name: 'Close', exact: true }).click();
  await expect(beside).toHaveCount(0);
});
