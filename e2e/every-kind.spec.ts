import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import {
  drag,
  drawn,
  expect,
  markList,
  onPage,
  openDesk,
  Pen,
  saved,
  saveMarked,
  test,
  wave,
} from './story.ts';

const tap = async (page: Page, fx: number, fy: number) => page.mouse.click(...(await onPage(page, fx, fy)));

test('a copy is marked with every kind of mark, each picked, moved, doubled, taken away, undone, and there again after a reload', async ({
  onDesk,
}) => {
  const { teacher } = await onDesk();

  await teacher.keyboard.press('p');
  // Writing.
  await teacher.keyboard.press('1');
  const pen = await Pen.on(teacher);
  await pen.stroke(await wave(teacher, [0.2, 0.3], [0.5, 0.3]));
  // A tick: one key, then a tap each.
  await teacher.keyboard.press('2');
  for (const y of [0.4, 0.44, 0.48]) await tap(teacher, 0.8, y);
  await teacher.keyboard.press('3');
  await drag(teacher, [0.2, 0.5], [0.4, 0.5]);
  await teacher.keyboard.press('5');
  await drag(teacher, [0.55, 0.52], [0.7, 0.56]);
  await teacher.getByLabel('Words of the note').fill('Where is the scale?');
  await teacher.keyboard.press('Escape');
  await teacher.keyboard.press('0');
  await tap(teacher, 0.2, 0.6);
  await teacher
    .getByLabel('Words on the page')
    .fill('Look at the map again and say which line is nearer to the hut.');
  await teacher.keyboard.press('Escape');
  // On words, without a pointer: swap, add, cut.
  for (const [key, words] of [
    ['7', 'gentle'],
    ['8', 'very'],
    ['9', ''],
  ] as const) {
    await teacher.keyboard.press(key);
    await teacher.keyboard.press('t');
    for (let i = 0; i < (key === '7' ? 3 : key === '8' ? 2 : 1); i++)
      await teacher.keyboard.press('ArrowRight');
    await teacher.keyboard.press('Enter');
    if (words) {
      await teacher.getByLabel(key === '7' ? 'Words instead' : 'Words to add').fill(words);
      await teacher.keyboard.press('Escape');
    }
  }
  // The other tray: numbers.
  await teacher.keyboard.press('q');
  await expect(teacher.getByRole('toolbar', { name: 'Pen tray' })).toContainText('wrong 0');
  await teacher.keyboard.press('2');
  await tap(teacher, 0.6, 0.4);
  for (const [key, y] of [
    ['6', 0.62],
    ['7', 0.66],
    ['8', 0.7],
    ['9', 0.74],
  ] as const) {
    await teacher.keyboard.press(key);
    await drag(teacher, [0.6, y], [0.75, y + 0.02]);
  }
  await saved(teacher);
  const all = await markList(teacher);
  expect(all.map((m) => m.replace('p. 1: ', '')).sort()).toEqual(
    [
      'add “very” after “is”',
      'arrow',
      'box',
      'cut “hill”',
      'free highlight',
      'line',
      'note: Where is the scale?',
      'on the page: Look at the map again and say which line is nearer to the hut.',
      'pen stroke',
      'ring',
      '“steep” → “gentle”',
      'tick',
      'tick',
      'tick',
      'tick, 1',
    ].sort(),
  );

  // One life for all: pick with the hand, move with the arrows, double, take away; undo brings all of it back.
  await teacher.keyboard.press('h');
  await tap(teacher, 0.8, 0.44);
  await expect(teacher.getByRole('toolbar', { name: 'Selected marks' })).toBeVisible();
  await teacher.keyboard.press('Shift+ArrowRight');
  await teacher.keyboard.press('Control+d');
  await expect(teacher.getByText('16 marks, 1 note')).toBeVisible();
  await teacher.keyboard.press('Delete');
  await expect(teacher.getByText('15 marks, 1 note')).toBeVisible();
  // Gathered with a loop: three ticks and what lies beside them, taken away at once.
  await teacher.keyboard.press('l');
  const corners = [
    [0.72, 0.37],
    [0.95, 0.37],
    [0.95, 0.52],
    [0.72, 0.52],
    [0.72, 0.37],
  ] as const;
  for (const [i, [fx, fy]] of corners.entries()) {
    await teacher.mouse.move(...(await onPage(teacher, fx, fy)), { steps: 5 });
    if (i === 0) await teacher.mouse.down();
  }
  await teacher.mouse.up();
  await teacher.getByRole('button', { name: 'Delete' }).click();
  await expect(teacher.getByText('12 marks, 1 note')).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByText('15 marks, 1 note')).toBeVisible();
  // A part of the stroke is rubbed out: two true strokes are left, and one undo makes it whole.
  await teacher.keyboard.press('d');
  await drag(teacher, [0.35, 0.26], [0.35, 0.34]);
  await expect(teacher.getByText('16 marks, 1 note')).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByText('15 marks, 1 note')).toBeVisible();
  // Another pen for what is picked; larger with the corner; undone after a reload.
  await teacher.keyboard.press('h');
  await tap(teacher, 0.6, 0.4);
  await teacher.getByRole('button', { name: 'Change pen' }).click();
  await teacher.getByRole('menuitem', { name: /half/ }).click();
  await expect(teacher.getByRole('button', { name: 'p. 1: half right, ½' })).toBeVisible();
  await saved(teacher);
  await teacher.reload();
  await drawn(teacher);
  expect(await markList(teacher)).toContain('p. 1: half right, ½');
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByRole('button', { name: 'p. 1: tick, 1' })).toBeVisible();
  expect(await markList(teacher)).toEqual(all);

  // Out as a PDF, all marks taken away, and in again from the file: the same marks, each once.
  const file = await saveMarked(teacher);
  expect(execFileSync('qpdf', ['--check', file], { encoding: 'utf8' })).toContain('No syntax or stream');
  await teacher.keyboard.press('Control+a');
  await teacher.keyboard.press('Delete');
  await expect(teacher.getByText('0 marks, 0 notes')).toBeVisible();
  const bring = async (said: RegExp) => {
    await teacher.getByLabel('File that was marked elsewhere').setInputFiles({
      name: 'marked.pdf',
      mimeType: 'application/pdf',
      buffer: readFileSync(file),
    });
    await expect(teacher.getByText(said)).toBeVisible();
  };
  await bring(/15 marks brought in/);
  expect(await markList(teacher)).toEqual(all);
  await bring(/15 were here already/);
  await expect(teacher.getByText('15 marks, 1 note')).toBeVisible();
  await saved(teacher);
});

test('a held pen is lent, trays are changed, copied and kept with the teacher; marks are copied to another student’s copy', async ({
  as,
  onDesk,
}) => {
  const { c, teacher } = await onDesk('Ada', 'Ben');
  const inHand = (name: RegExp) => teacher.getByRole('button', { name, pressed: true });
  await teacher.keyboard.press('1');
  await teacher.keyboard.down('2');
  await expect(inHand(/tick/)).toBeVisible();
  await teacher.waitForTimeout(450);
  await tap(teacher, 0.5, 0.5);
  await teacher.keyboard.up('2');
  await expect(inHand(/Red pen/)).toBeVisible();
  await expect(teacher.getByText('1 mark, 0 notes')).toBeVisible();

  // The pen becomes another, in the tray that this teacher has at every desk.
  await teacher.getByRole('button', { name: /^Tray:/ }).click();
  await teacher.getByRole('menuitem', { name: 'Edit pens …' }).click();
  const dialog = teacher.getByRole('dialog');
  await dialog.getByLabel('Name', { exact: true }).nth(1).fill('broad');
  await dialog.getByLabel('Width').fill('4');
  await dialog.getByRole('radio', { name: 'purple' }).click();
  await dialog.getByRole('button', { name: 'Save pens' }).click();
  await expect(inHand(/broad/)).toBeVisible();
  await teacher.getByRole('button', { name: /^Tray:/ }).click();
  await teacher.getByRole('menuitem', { name: 'Tray on the left' }).click();
  const again = await as(c.teacher);
  await openDesk(again, c);
  await expect(again.getByRole('button', { name: /broad/ })).toBeVisible();

  // Copied from one copy, put on the other.
  await teacher.keyboard.press('Control+a');
  await teacher.keyboard.press('Control+c');
  await teacher.keyboard.press('n');
  await drawn(teacher);
  await expect(teacher.getByText('0 marks, 0 notes')).toBeVisible();
  await teacher.keyboard.press('Control+v');
  await expect(teacher.getByText('1 mark, 0 notes')).toBeVisible();
  await saved(teacher);
});

test('copies that were marked elsewhere are brought in many at once: each finds its copy, or is told it', async ({
  made,
  onDesk,
}) => {
  const { c, teacher } = await onDesk('Ada', 'Ben');
  // Ada's copy is marked and goes out; then the mark is taken away, as if it had been made elsewhere.
  await teacher.keyboard.press('2');
  await tap(teacher, 0.5, 0.3);
  await saved(teacher);
  const buffer = readFileSync(await saveMarked(teacher));
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByText('0 marks, 0 notes')).toBeVisible();
  await saved(teacher);

  await teacher.goto(`/piles/${c.assignmentId}`);
  await teacher.getByRole('button', { name: 'Bring in marked PDFs' }).click();
  const dialog = teacher.getByRole('dialog');
  const pdf = (name: string, bytes: Buffer) => ({ name, mimeType: 'application/pdf', buffer: bytes });
  await teacher
    .getByLabel('PDFs that were marked elsewhere')
    .setInputFiles([
      pdf('marked.pdf', buffer),
      pdf('scan 7.pdf', readFileSync(made.written)),
      pdf('broken.pdf', Buffer.from('no PDF')),
    ]);
  await expect(dialog.getByText(/1 mark brought in/)).toBeVisible();
  await expect(dialog.getByText(/does not say whose it is/)).toBeVisible();
  await expect(dialog.getByText(/No mark was changed/)).toBeVisible();
  await dialog.getByLabel('Copy of scan 7.pdf').selectOption({ index: 2 });
  await expect(dialog.getByText(/0 marks brought in/)).toBeVisible();
  await teacher.getByLabel('PDFs that were marked elsewhere').setInputFiles([pdf('marked.pdf', buffer)]);
  await expect(dialog.getByText(/1 were here already/)).toBeVisible();
  await dialog.getByRole('button', { name: 'Back to the pile' }).click();
  await openDesk(teacher, c);
  expect(await markList(teacher)).toEqual(['p. 1: tick']);
});

test('two teachers on one copy see each other’s marks within moments', async ({ as, onDesk }) => {
  const { c, teacher: one } = await onDesk();
  const other = await as(c.teacher);
  await openDesk(other, c);
  await one.keyboard.press('2');
  await tap(one, 0.5, 0.5);
  // Well before either would ask by itself.
  await expect(other.getByText('1 mark, 0 notes')).toBeVisible();
  await other.keyboard.press('h');
  await tap(other, 0.5, 0.5);
  await other.keyboard.press('Delete');
  await expect(one.getByText('0 marks, 0 notes')).toBeVisible();
});
