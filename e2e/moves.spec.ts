import type { Locator } from '@playwright/test';
import { drawn, expect, markedAndBack, markList, onPage, saved, select, test } from './story.ts';

/** Counts what a hand does: a click, a choice in the system's window, a pull over words. Typing and keys that are typed are not counted. */
function counter() {
  let moves = 0;
  return {
    get moves() {
      return moves;
    },
    async click(target: Locator) {
      moves++;
      await target.click();
    },
    async does(move: () => Promise<unknown>) {
      moves++;
      await move();
    },
  };
}

/** A picture as small as one can be. */
const PHOTO = {
  name: 'walk.png',
  mimeType: 'image/png',
  buffer: Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  ),
};

test('a photo is handed in with four moves from the first page', async ({ makeClass, as }) => {
  const c = await makeClass(['Ada']);
  const ada = await as(c.students[0]!);
  const hand = counter();
  await hand.click(ada.getByRole('link', { name: c.title }));
  await hand.does(async () => {
    const chooser = ada.waitForEvent('filechooser');
    await ada.getByRole('button', { name: 'Choose files' }).click();
    await (await chooser).setFiles(PHOTO);
  });
  await hand.click(ada.getByRole('banner').getByRole('button', { name: 'Hand in', exact: true }));
  await hand.click(ada.getByRole('dialog').getByRole('button', { name: 'Hand in now' }));
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();
  expect(hand.moves).toBeLessThanOrEqual(4);
});

test('a swap and a note need two moves besides typing, no Escape at the end; a copy that came in again five; the marked PDFs of a class two', async ({
  onDesk,
  as,
}) => {
  const { c, teacher } = await onDesk();
  await teacher.keyboard.press('7');
  const swap = counter();
  await swap.does(() => select(teacher, 'hill'));
  await teacher.keyboard.type('ridge');
  // The next thing begins: what was typed is kept.
  await teacher.keyboard.press('Enter');
  await teacher.keyboard.press('5');
  const note = counter();
  await note.does(async () => teacher.mouse.click(...(await onPage(teacher, 0.6, 0.6))));
  await expect(teacher.getByLabel('Words of the note')).toBeFocused();
  await teacher.keyboard.type('How do you know?');
  await note.does(async () => teacher.mouse.click(...(await onPage(teacher, 0.6, 0.35))));
  await expect(teacher.getByLabel('Words of the note')).toHaveValue('');
  await teacher.keyboard.type('And here?');
  await teacher.getByLabel(/^Grade/).fill('7');
  await saved(teacher);
  expect((await markList(teacher)).map((m) => m.replace('p. 1: ', ''))).toEqual([
    '“hill” → “ridge”',
    'note: And here?',
    'note: How do you know?',
  ]);
  expect(Math.max(swap.moves, note.moves)).toBeLessThanOrEqual(2);
  await markedAndBack(teacher, c);

  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  await ada.getByRole('link', { name: 'Improve and hand in again' }).click();
  await ada
    .getByRole('banner')
    .getByRole('button', { name: /^Hand in/ })
    .click();
  await ada.getByRole('dialog').getByRole('button', { name: 'Hand in again' }).click();
  await expect(ada.getByText('Handed in again', { exact: true })).toBeVisible();

  await teacher.goto('/');
  const again = counter();
  await again.click(teacher.getByRole('link', { name: /^(Begin|Go on) with/ }).first());
  await drawn(teacher);
  await teacher.keyboard.press('2');
  await again.does(async () => teacher.mouse.click(...(await onPage(teacher, 0.3, 0.3))));
  await teacher.getByLabel(/^Grade/).fill('9');
  await again.click(teacher.getByRole('button', { name: /^Marked/ }));
  await again.click(teacher.getByRole('button', { name: 'Hand back 1 copy' }));
  await again.click(teacher.getByRole('dialog').getByRole('button', { name: 'Hand back 1 copy' }));
  await expect(teacher.getByRole('row', { name: /handed back/ })).toBeVisible();
  expect(again.moves).toBeLessThanOrEqual(5);

  const out = counter();
  const download = teacher.waitForEvent('download');
  await out.click(teacher.getByRole('button', { name: /^Save as/ }));
  await out.click(teacher.getByRole('menuitem', { name: 'Marked PDFs of all, as zip' }));
  await (await download).path();
  expect(out.moves).toBeLessThanOrEqual(2);
});
