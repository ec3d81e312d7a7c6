import { execFileSync } from 'node:child_process';
import { drag, drawn, expect, handIn, markList, onPage, openDesk, Pen, saved, test, wave } from './story.ts';

test('a real copy is marked with a pen and handed back with a grade, and nobody sees anything before', async ({
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben', 'Cyd']);
  const ada = await as(c.students[0]!);
  const ben = await as(c.students[1]!);
  await handIn(ada, c.title, made.written);
  await handIn(ben, c.title, made.printed);

  const teacher = await as(c.teacher);
  await teacher.goto('/');
  await expect(teacher.getByText('2 copies to mark')).toBeVisible();
  await teacher.getByRole('link', { name: c.title }).click();
  await expect(teacher.getByRole('row', { name: /Cyd with student/ })).toBeVisible();
  await teacher.getByRole('link', { name: /, Ada$/ }).click();
  await drawn(teacher);

  // Written with the pen, one stroke too many, taken back.
  const pen = await Pen.on(teacher);
  await teacher.keyboard.press('1');
  await pen.stroke(await wave(teacher, [0.2, 0.4], [0.5, 0.42]));
  await pen.stroke(await wave(teacher, [0.2, 0.5], [0.7, 0.6]));
  await expect(teacher.getByText('2 marks, 0 notes')).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByText('1 mark, 0 notes')).toBeVisible();

  // Words highlighted: the drag snaps to whole words of the line.
  await teacher.getByRole('button', { name: /method/ }).click();
  const words = await wordBox(teacher, 'hill', 'steep');
  await drag(teacher, words.from, words.to);
  // A note at a spot, one on a passage.
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.5, 0.7)));
  await teacher.getByLabel('Words of the note').fill('Count the squares again.');
  await teacher.keyboard.press('Escape');
  await teacher.keyboard.press('6');
  const passage = await wordBox(teacher, 'north', 'side');
  await drag(teacher, passage.from, passage.to);
  await teacher.getByLabel('Words of the note').fill('Which side is that on the map?');
  await teacher.keyboard.press('Escape');
  expect(await markList(teacher)).toEqual([
    expect.stringContaining('highlight on “hill is steep”'),
    expect.stringContaining('note on “north side”: Which side is that on the map?'),
    expect.stringContaining('pen stroke'),
    expect.stringContaining('note: Count the squares again.'),
  ]);

  await teacher.keyboard.press('g');
  await teacher.keyboard.type('11');
  await teacher.keyboard.press('Enter');
  await expect(teacher.getByRole('alert')).toContainText('More than the 10 that can be earned');
  await teacher.getByLabel(/^Grade/).fill('8,5');
  await teacher.getByLabel(/^Closing words/).fill('You read the hill well, Ada.');
  await saved(teacher);

  // The tab is closed in the middle and opened again: everything is as it was, undo too.
  const address = teacher.url();
  const context = teacher.context();
  await teacher.close();
  const again = await context.newPage();
  await again.goto(address);
  await drawn(again);
  await expect(again.getByText('4 marks, 2 notes')).toBeVisible();
  await expect(again.getByLabel(/^Grade/)).toHaveValue('8½');
  await expect(again.getByLabel(/^Closing words/)).toHaveValue('You read the hill well, Ada.');
  await expect(again.getByRole('button', { name: 'Undo' })).toBeEnabled();

  // Marked, and on to the next copy by one key.
  await again.keyboard.press('Control+Enter');
  await expect(again.getByRole('heading', { name: /^Ben/ })).toBeVisible();
  await drawn(again);

  // Ada still sees only that it is in.
  await ada.reload();
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();
  await expect(ada.getByText('You read the hill well')).toHaveCount(0);

  await again.getByRole('link', { name: c.title }).click();
  await again.getByRole('button', { name: 'Hand back 1 copy' }).click();
  const dialog = again.getByRole('dialog');
  await expect(dialog).toContainText(/Not marked, stays with you \(1\):\s*Ben/);
  await expect(dialog).toContainText(/Not handed in \(1\): Cyd/);
  await dialog.getByRole('button', { name: 'Hand back 1 copy' }).click();
  await expect(again.getByRole('row', { name: /Ada handed back/ })).toBeVisible();

  await ada.reload();
  await drawn(ada);
  await expect(ada.getByText('You read the hill well, Ada.')).toBeVisible();
  await expect(ada.getByRole('complementary')).toContainText(/Grade\s*8½\s*\/ 10/);
  await expect(ada.getByRole('article', { name: /Note/ })).toHaveCount(2);
  await expect(ada.getByRole('article').filter({ hasText: 'Which side is that on the map?' })).toBeVisible();
  const download = ada.waitForEvent('download');
  await ada.getByRole('button', { name: 'PDF to keep or print' }).click();
  const file = await (await download).path();
  expect((await download).suggestedFilename()).toMatch(/^Map work .*Ada.*, marked\.pdf$/);
  expect(execFileSync('qpdf', ['--check', file], { encoding: 'utf8' })).toContain(
    'No syntax or stream encoding errors',
  );
  const kinds = execFileSync('qpdf', ['--qdf', '--object-streams=disable', file, '-'], {
    encoding: 'latin1',
  }).match(/\/Subtype \/(Ink|Highlight|Text)\b/g);
  expect(kinds?.sort()).toEqual([
    '/Subtype /Highlight',
    '/Subtype /Highlight',
    '/Subtype /Ink',
    '/Subtype /Text',
  ]);

  // Ben, whose copy was not handed back, sees nothing.
  await ben.reload();
  await expect(ben.getByText('Handed in', { exact: true })).toBeVisible();
});

/** Middles of two words on the first page, as shares of the page: from the text layer that the desk itself reads. */
async function wordBox(
  page: import('@playwright/test').Page,
  first: string,
  last: string,
): Promise<{ from: [number, number]; to: [number, number] }> {
  return page.evaluate(
    async ({ first, last }) => {
      const id = document.querySelector<HTMLElement>('[data-document]')!.dataset.document;
      const text = await (await fetch(`/api/documents/${id}/text`)).json();
      const { frames } = await (await fetch(`/api/documents/${id}`)).json();
      const [x0, y0, x1, y1] = frames[0].crop;
      const middle = (word: string): [number, number] => {
        const { box } = text[0].words.find((w: { text: string }) => w.text === word);
        return [(box[0] + box[2]) / 2 / (x1 - x0), (box[1] + box[3]) / 2 / (y1 - y0)];
      };
      return { from: middle(first), to: middle(last) };
    },
    { first, last },
  );
}

test('the last copy of a pile leads back to it', async ({ makeClass, as, made, laid }) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.printed);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await expect(teacher.getByText('all copies that are in are marked')).toBeVisible();
  await expect(teacher.getByRole('row', { name: /Ada marked .*no grade/ })).toBeVisible();
});
