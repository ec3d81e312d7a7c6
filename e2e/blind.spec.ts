import { blindName } from '@jotmark/core';
import { addClass, addPerson, newId, setAssignment } from '@jotmark/server';
import { drawn, expect, PASSWORD, saved, test } from './story.ts';

test('a pile is marked blind, in shuffled order, and no name can be found in what the browser received', async ({
  house,
  as,
  made,
  laid,
}) => {
  const tag = newId(house).slice(9, 18);
  const person = (role: 'teacher' | 'student', given: string, family: string) =>
    addPerson(house, { role, given, family, login: `${given}-${tag}`.toLowerCase(), password: PASSWORD });
  const quill = await person('teacher', 'Quill', 'Feather');
  const pupils = [
    await person('student', 'Xanthippe', 'Zweistein'),
    await person('student', 'Bartholomew', 'Quokkason'),
  ];
  const classId = await addClass(house, {
    name: '7Z',
    unit: '',
    teachers: [quill.id],
    students: pupils.map((p) => p.id),
  });
  const title = `Blind ${tag}`;
  const set = await setAssignment(house, { classId, title, instructions: '', dueAt: null, most: 1000 });
  const people = pupils.map((p) => ({ person: p, copyId: set.copies.get(p.id)! }));
  const c = { teacher: quill.login, students: [], title, assignmentId: set.id, people };
  for (const i of pupils.keys()) await laid(c, i, made.written);

  const teacher = await as(quill.login);
  await teacher.goto(`/piles/${set.id}`);
  await teacher.getByLabel(/^Mark blind/).check();
  await expect(teacher.getByText('Xanthippe')).toHaveCount(0);
  // From here on everything the server sends is listened to.
  const received: string[] = [];
  teacher.on('response', async (response) => {
    if (!response.url().includes('/api/')) return;
    received.push(`${JSON.stringify(response.headers())} ${await response.text().catch(() => '')}`);
  });
  await teacher.reload();
  const [one, two] = pupils.map((p) => blindName(set.copies.get(p.id)!).family);
  await expect(teacher.getByRole('link', { name: `${one}, Copy` })).toBeVisible();
  await teacher.getByLabel('Order of the copies').selectOption('shuffled');
  const order = await teacher.getByRole('row').getByRole('link').allTextContents();
  expect(order.toSorted()).toEqual([`${one}, Copy`, `${two}, Copy`].toSorted());

  // The desk goes through the pile in that order, under the same codes.
  await teacher.getByRole('row').getByRole('link').first().click();
  await drawn(teacher);
  const code = (text: string) => text.replace(', Copy', '');
  await expect(teacher.getByRole('heading', { level: 1, name: `Copy ${code(order[0]!)}` })).toBeVisible();
  await teacher.getByLabel(/^Grade/).fill('7');
  await teacher.keyboard.press('Control+Enter');
  await expect(teacher.getByRole('heading', { level: 1, name: `Copy ${code(order[1]!)}` })).toBeVisible();
  await drawn(teacher);
  await saved(teacher);

  // The second grade is typed straight into the pile, and called marked there.
  await teacher.goto(`/piles/${set.id}`);
  const row = teacher.getByRole('row', { name: new RegExp(code(order[1]!)) });
  await row.getByRole('textbox').fill('8,5');
  await teacher.keyboard.press('Enter');
  await expect(row.getByRole('textbox')).toHaveValue('8½');
  await row.getByRole('button', { name: 'being marked', exact: true }).click();
  await expect(row.getByRole('button', { name: 'marked', exact: true })).toBeVisible();
  await teacher.goto('/');
  await expect(teacher.getByText(title)).toBeVisible();
  await teacher.goto(`/room/${set.id}`);
  await expect(teacher.getByText('Walk the room')).toBeVisible();
  expect(received.length).toBeGreaterThan(8);
  for (const name of [
    'Xanthippe',
    'Zweistein',
    'Bartholomew',
    'Quokkason',
    ...pupils.flatMap((p) => [p.login, p.id]),
  ])
    expect(received.filter((text) => text.includes(name))).toEqual([]);

  // Handed back, they have their names again.
  await teacher.goto(`/piles/${set.id}`);
  await teacher.getByRole('button', { name: 'Hand back 2 copies' }).click();
  await teacher.getByRole('dialog').getByRole('button', { name: 'Hand back 2 copies' }).click();
  await expect(teacher.getByRole('row', { name: /Zweistein, Xanthippe handed back/ })).toBeVisible();
});

test('many copies are chosen, written to, reminded, given another date, and their originals saved as one zip', async ({
  makeClass,
  as,
  made,
  laid,
}) => {
  const c = await makeClass(['Ada', 'Ben', 'Cyd']);
  await laid(c, 0, made.written);
  const teacher = await as(c.teacher);
  await teacher.goto(`/piles/${c.assignmentId}`);
  await teacher.getByLabel('Search by name').fill('ben');
  await expect(teacher.getByRole('row')).toHaveCount(2);
  await teacher.getByLabel('Search by name').fill('');
  await teacher.getByLabel('Which copies').selectOption('with-student');
  await teacher.getByLabel('Choose all').check();
  // One slip sends nothing: the words stand there to be sent, beside those that were typed already.
  await teacher.getByRole('button', { name: 'Write to them' }).click();
  await teacher.getByLabel('Message to 2 students').fill('Bring a ruler.');
  await teacher.getByRole('button', { name: 'Remind 2 …' }).click();
  await expect(teacher.getByLabel('Message to 2 students')).toHaveValue(/is still with you/);
  await teacher.getByRole('button', { name: 'Write to them' }).click();
  await expect(teacher.getByLabel('Message to 2 students')).toHaveValue('Bring a ruler.');
  await teacher.getByRole('button', { name: 'Remind 2 …' }).click();
  await expect(teacher.getByLabel('Message to 2 students')).toHaveValue(/is still with you/);
  await teacher.getByRole('button', { name: 'Send' }).click();
  await expect(teacher.getByText('Reminded 2 students.')).toBeVisible();
  const ben = await as(c.students[1]!);
  await expect(ben.getByText('1 new message from your teacher')).toBeVisible();
  await teacher.getByLabel('Choose all').check();
  await teacher.getByRole('button', { name: 'Own due date' }).click();
  await teacher.getByLabel('Own due date').fill('2020-01-01T10:00');
  await teacher.getByRole('button', { name: 'Set this due date' }).click();
  await expect(teacher.getByRole('row', { name: /Ben .*overdue/ })).toBeVisible();
  await teacher.getByLabel('Choose all').check();
  await teacher.getByRole('button', { name: 'Excuse' }).click();
  await expect(teacher.getByRole('row', { name: /Ben .*excused/ })).toBeVisible();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByRole('row', { name: /Ben .*excused/ })).toHaveCount(0);
  await teacher.getByLabel('Which copies').selectOption('all');
  await teacher.getByRole('button', { name: 'Pages' }).click();
  const sheet = teacher.getByRole('link', { name: /^Open the copy of Ada/ });
  await expect
    .poll(() => sheet.locator('img').evaluate((i: HTMLImageElement) => i.naturalWidth))
    .toBeGreaterThan(100);
  await teacher.getByLabel(/^Choose Ada/).check();
  const download = teacher.waitForEvent('download');
  await teacher.getByRole('button', { name: 'Originals as zip' }).click();
  expect((await download).suggestedFilename()).toMatch(/\.zip$/);
});
