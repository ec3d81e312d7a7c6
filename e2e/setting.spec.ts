import { join } from 'node:path';
import { addPerson } from '@jotmark/server';
import { makeOffice } from '@jotmark/server/made-elsewhere';
import type { Locator } from '@playwright/test';
import {
  chooseOwn,
  confirmHandIn,
  drag,
  drawn,
  expect,
  openDeskOf,
  PASSWORD,
  test,
  testFolder,
} from './story.ts';

const office = () => makeOffice(testFolder('office'));

test('from an empty school to a worksheet made from a docx, filled in on a tablet, handed in and open at the desk', async ({
  house,
  as,
}) => {
  const { docx } = await office();
  const tag = String(Date.now());
  await addPerson(house, {
    role: 'teacher',
    login: `new-${tag}`,
    given: 'Ova',
    family: 'Newcomb',
    password: PASSWORD,
  });
  const teacher = await as(`new-${tag}`);

  // Nothing is there yet; the next step is offered. Moves are counted, typing is not.
  let moves = 0;
  const move = async (what: Locator) => {
    moves++;
    await what.click();
  };
  const button = (name: string | RegExp) => teacher.getByRole('button', { name });
  await expect(teacher.getByRole('heading', { name: 'Welcome to Jotmark' })).toBeVisible();
  await move(teacher.getByRole('link', { name: 'Make your first class' }));
  await teacher.getByLabel('Name of the class').fill('7N');
  await teacher.getByLabel(/^Unit you are in/).fill('Reading maps');
  await move(button('Make the class'));
  await teacher.getByLabel(/^Names, one a line/).fill(`Ada Stone\nBeck, Łukasz`);
  await move(button('Add 2 students'));
  const slip = teacher.getByRole('listitem').filter({ hasText: 'Ada Stone' });
  await expect(slip).toBeVisible();
  const [login, password] = await slip.getByRole('definition').allInnerTexts();
  await move(button('Next: work for them'));

  // An assignment with instructions and a worksheet from a document.
  await expect(teacher.getByText('Give it a title to hand it out')).toBeVisible();
  await teacher.getByLabel('Title').fill('Reading the island map');
  await teacher.getByRole('textbox', { name: 'Instructions' }).click();
  await teacher.getByRole('button', { name: 'List', exact: true }).click();
  await teacher.keyboard.type('Take a ruler.');
  await teacher.keyboard.press('Enter');
  await teacher.keyboard.type('Show how you measured.');
  await teacher.getByLabel(/^Points/).fill('10');
  moves++;
  await teacher.getByLabel('File for a new worksheet').setInputFiles(docx);
  await expect(teacher.getByText('1 page,')).toBeVisible();
  await expect(teacher.getByText('Draft, saved')).toBeVisible();
  await move(teacher.getByRole('link', { name: 'Questions' }));

  // All likely places are offered, and taken by one key.
  await expect(button('Accept all 6 places')).toBeVisible();
  moves++;
  await teacher.keyboard.press('a');
  const questions = teacher.getByRole('list', { name: 'Questions' });
  await expect(questions.getByRole('listitem')).toHaveCount(6);
  await expect(questions.getByRole('button', { name: /^Choose question/ })).toHaveText([
    '1',
    '2a',
    '2b',
    '3',
    '4',
    '5',
  ]);
  await expect(teacher.getByRole('status', { name: 'Points' })).toContainText('10 points in 6 questions');
  await expect(teacher.getByText('Saved', { exact: true })).toBeVisible();
  await move(teacher.getByRole('link', { name: 'Hand out …' }));
  await move(teacher.getByRole('dialog').getByRole('button', { name: 'Hand out 2 copies' }));
  await expect(teacher.getByRole('link', { name: 'Pile: 0 of 2 in' })).toBeVisible();
  // From Today to handed out, from a document with six questions.
  expect(moves).toBeLessThanOrEqual(9);

  // The passwords wait where they were made until somebody has them.
  await teacher.getByRole('link', { name: /^Register/ }).click();
  await expect(slip).toBeVisible();
  await teacher.getByRole('button', { name: 'Done' }).click();
  await teacher.getByRole('dialog').getByRole('button', { name: 'Leave without printing' }).click();
  await expect(teacher.getByRole('heading', { name: '2 students' })).toBeVisible();
  await teacher.getByRole('link', { name: 'Work', exact: true }).click();
  await expect(teacher.getByRole('link', { name: 'Pile: 0 of 2 in' })).toBeVisible();

  // The student fills it in on a tablet held upright.
  const ada = await as(login!, password);
  await chooseOwn(ada);
  await ada.setViewportSize({ width: 820, height: 1180 });
  await ada.getByRole('link', { name: 'Reading the island map' }).click();
  await drawn(ada);
  await expect(ada.getByText('Show how you measured.')).toBeVisible();
  await ada.getByLabel('Answer to 1').fill('Tarn Hut');
  await ada.keyboard.press('Enter');
  await ada.keyboard.type('3,4');
  await expect(ada.getByLabel('Answer to 2a in km')).toHaveValue('3,4');
  await ada
    .getByLabel('Answer to 4')
    .fill('Because everybody reads along first, then up, so nobody gets lost.');
  // The task has been read: folded away, the page has the room.
  await ada.getByRole('button', { name: 'What to do' }).click();
  await ada.getByRole('button', { name: /Pencil/ }).click();
  const box = (await ada.getByRole('group', { name: 'Page 1 of 1' }).boundingBox())!;
  await ada.mouse.move(box.x + box.width * 0.2, box.y + box.height * 0.62);
  await ada.mouse.down();
  await ada.mouse.move(box.x + box.width * 0.3, box.y + box.height * 0.66, { steps: 6 });
  await ada.mouse.up();
  await expect(ada.getByText('Saved', { exact: true })).toBeVisible();

  // A reload keeps everything.
  await ada.reload();
  await expect(ada.getByLabel('Answer to 1')).toHaveValue('Tarn Hut');
  await ada.getByRole('banner').getByRole('button', { name: 'Hand in' }).click();
  await expect(ada.getByRole('dialog')).toContainText('2 questions have no answer yet');
  await ada.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click();
  await confirmHandIn(ada, 'I could not find 3.');
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();

  // At the desk: typed words are text like print.
  await teacher.goto('/');
  await expect(teacher.getByRole('region', { name: 'Messages from students' })).toContainText(
    'I could not find 3.',
  );
  await openDeskOf(teacher, 'Reading the island map', /, Ada$/);
  const words = await teacher.evaluate(async () => {
    const id = document.querySelector<HTMLElement>('[data-document]')!.dataset.document;
    const text = await (await fetch(`/api/documents/${id}/text`)).json();
    return text[0].words.map((w: { text: string }) => w.text).join(' ');
  });
  expect(words).toContain('Tarn Hut');
  expect(words).toContain('3,4');
  await expect(teacher.getByText('I could not find 3.')).toBeVisible();
  if (process.env.SHOTS) await teacher.screenshot({ path: join(process.env.SHOTS, 'desk-filled.png') });
});

test('questions are drawn, moved, pulled, lined up, duplicated and taken back, by mouse and by keyboard', async ({
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const teacher = await as(c.teacher);
  await teacher.goto('/worksheets');
  await teacher.getByLabel('File for a new worksheet').setInputFiles(made.written);
  await drawn(teacher);
  const list = teacher.getByRole('list', { name: 'Questions' });
  const region = (n: string) => teacher.getByRole('button', { name: new RegExp(`^Question ${n},`) });
  const boxOf = async (n: string) => (await region(n).boundingBox())!;

  await drag(teacher, [0.2, 0.45], [0.6, 0.48]);
  await drag(teacher, [0.25, 0.33], [0.5, 0.36]);
  // It numbers itself by its place: the second one stands above the first.
  await expect(list.getByRole('button', { name: /^Choose question/ })).toHaveText(['1', '2']);
  const before = await boxOf('2');
  await teacher.mouse.move(before.x + 30, before.y + 8);
  await teacher.mouse.down();
  await teacher.mouse.move(before.x + 60, before.y + 48, { steps: 4 });
  await teacher.mouse.up();
  await expect.poll(async () => Math.round((await boxOf('2')).y - before.y)).toBe(40);
  await teacher.keyboard.press('Shift+ArrowDown');
  await expect.poll(async () => (await boxOf('2')).y - before.y).toBeGreaterThan(45);
  await teacher.keyboard.press('Alt+ArrowRight');
  await expect.poll(async () => (await boxOf('2')).width).toBeGreaterThan(before.width);
  for (let i = 0; i < 3; i++) await teacher.keyboard.press('Control+z');
  await expect.poll(async () => Math.round((await boxOf('2')).y - before.y)).toBe(0);

  // A part of the question before, points typed, another kind.
  await list.getByRole('button', { name: 'Choose question 2' }).click();
  await teacher.getByLabel('part of the question before').check();
  await expect(list.getByRole('button', { name: /^Choose question/ })).toHaveText(['1', '1a']);
  await teacher.getByLabel('Points of question 1a').fill('2½');
  await teacher.getByLabel('Answer that question 1a takes').selectOption('choice');
  await teacher.getByLabel('Options, one a line').fill('north\nsouth');
  await expect(teacher.getByRole('status', { name: 'Points' })).toContainText('2½ points in 2 questions');

  // Lined up with the first, then one more of both.
  await region('1').click();
  await region('1a').click({ modifiers: ['Shift'] });
  await teacher.getByRole('button', { name: 'Left edges' }).click();
  await expect.poll(async () => Math.round((await boxOf('1a')).x - (await boxOf('1')).x)).toBe(0);
  await teacher.keyboard.press('Control+d');
  await expect(list.getByRole('listitem')).toHaveCount(4);
  await teacher.keyboard.press('Delete');
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await expect(teacher.getByText('Saved', { exact: true })).toBeVisible();
  await teacher.reload();
  await drawn(teacher);
  await expect(list.getByRole('button', { name: /^Choose question/ })).toHaveText(['1', '1a']);
});
