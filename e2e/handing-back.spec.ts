import type { Page } from '@playwright/test';
import { type Class, drawn, expect, handBackOne, onPage, openDesk, saved, test } from './story.ts';

/** Puts a note with these words on the first page. */
async function note(page: Page, words: string, x = 0.3, y = 0.4): Promise<void> {
  await page.keyboard.press('5');
  await page.mouse.click(...(await onPage(page, x, y)));
  await page.getByLabel('Words of the note').fill(words);
  await page.keyboard.press('Escape');
}

/** Marks the copy on the desk: two notes, a grade, closing words; and calls it marked. */
async function mark(page: Page, grade = '7'): Promise<void> {
  await note(page, 'Count again.');
  await note(page, 'Which line?', 0.5, 0.6);
  await page.getByLabel(/^Grade/).fill(grade);
  await page.getByLabel(/^Grade/).press('Enter');
  await page.getByLabel(/^Closing words/).fill('You read the hill well.');
  await saved(page);
  await page.getByRole('button', { name: /^Marked/ }).click();
}

const pile = (page: Page, c: Class) => page.goto(`/piles/${c.assignmentId}`);

test('a pile goes back at once: whoever has Jotmark open hears of it; recalled it is gone, and the second says what changed', async ({
  onDesk,
  as,
}) => {
  const { c, teacher } = await onDesk();
  await mark(teacher);
  const ada = await as(c.students[0]!);
  await expect(ada.getByRole('link', { name: /Map work/ })).toContainText('handed in');
  await pile(teacher, c);
  await teacher.getByRole('button', { name: 'Hand back 1 copy' }).click();
  const dialog = teacher.getByRole('dialog');
  await expect(dialog.getByText('Checked: nothing stands out.')).toBeVisible();
  await dialog.getByLabel('A sentence to tell them').fill('Look at both notes.');
  // What goes is what was looked at before, made by the same code.
  const preview = teacher.context().waitForEvent('page');
  await dialog.getByRole('link', { name: /^As Ada .* will see it$/ }).click();
  const seen = await preview;
  await drawn(seen);
  await expect(seen.getByText('You read the hill well.')).toBeVisible();
  await expect(seen.getByRole('complementary')).toContainText(/Grade\s*7\s*\/ 10/);
  await seen.close();
  await dialog.getByRole('button', { name: 'Hand back 1 copy' }).click();
  await expect(teacher.getByRole('row', { name: /handed back/ })).toContainText('not looked at');

  // Without a reload: the list, the bell, the news.
  await expect(ada.getByRole('link', { name: /Map work/ })).toContainText('marked, back with you');
  await ada.getByRole('link', { name: /^News, \d+ not read$/ }).click();
  const first = ada.getByRole('list', { name: 'News' }).getByRole('listitem').filter({ hasText: 'is back.' });
  await expect(first).toContainText('Look at both notes.');
  await first.getByRole('link').click();
  await drawn(ada);
  await ada.keyboard.press('n');
  await expect(teacher.getByRole('row', { name: /handed back/ })).toContainText('0 of 2 done');

  // Recalled while she reads: her page says so, and holds nothing of it any more.
  await teacher.getByRole('checkbox', { name: /^Choose Example/ }).check();
  await teacher.getByRole('button', { name: 'Recall 1 copy' }).click();
  await expect(teacher.getByRole('dialog')).toContainText('1 of them has looked at it already: Ada');
  await teacher.getByRole('dialog').getByLabel('A sentence to tell them').fill('One moment.');
  await teacher.getByRole('dialog').getByRole('button', { name: 'Recall 1 copy' }).click();
  await expect(ada.getByText('Your teacher has recalled it to look at it again')).toBeVisible();
  await expect(ada.getByText('One moment.')).toBeVisible();
  await expect(ada.getByText('Count again.')).toHaveCount(0);

  await openDesk(teacher, c);
  await teacher.getByLabel(/^Grade/).fill('8');
  await teacher.getByLabel(/^Grade/).press('Enter');
  await note(teacher, 'Better than I thought.', 0.6, 0.3);
  await saved(teacher);
  await pile(teacher, c);
  await handBackOne(teacher);
  await expect(ada.getByText('Changed since it first came back:')).toBeVisible();
  await expect(ada.getByRole('complementary')).toContainText('1 mark is new, the grade was changed');
  await expect(ada.getByRole('complementary')).toContainText(/Grade\s*8\s*\/ 10/);
});

test('one copy goes back in ten seconds, undone nobody saw it; a time is set, cancelled, set again, and comes', async ({
  onDesk,
  as,
  house,
}) => {
  const { c, teacher } = await onDesk();
  await mark(teacher);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: /Map work/ }).click();
  await pile(teacher, c);
  await teacher.getByRole('checkbox', { name: /^Choose Example/ }).check();
  await teacher.getByRole('button', { name: 'Hand back 1 copy' }).click();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByText('It was not handed back. Nobody has seen anything.')).toBeVisible();

  const soon = new Date(Date.now() + 40 * 86_400_000).toISOString().slice(0, 10);
  /** Sets a time and gives what stands above the pile then. */
  const setTime = async () => {
    await teacher.getByRole('button', { name: 'Options …' }).click();
    const dialog = teacher.getByRole('dialog');
    await dialog.getByLabel('At a set time').check();
    await dialog.getByLabel('When they go back').fill(`${soon}T18:00`);
    await dialog.getByRole('button', { name: /^Hand back 1 copy \d/ }).click();
    const order = teacher.getByRole('list', { name: 'Goes back at a set time' });
    await expect(order).toContainText(/1 copy goes back \d/);
    return order;
  };
  // Further than a year ahead is said at once.
  await teacher.getByRole('button', { name: 'Options …' }).click();
  await teacher.getByRole('dialog').getByLabel('At a set time').check();
  await teacher.getByRole('dialog').getByLabel('When they go back').fill('2099-03-01T18:00');
  await expect(teacher.getByText('At most a year ahead.')).toBeVisible();
  await expect(teacher.getByRole('button', { name: /^Hand back 1 copy \d/ })).toBeDisabled();
  await teacher.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click();
  await teacher.getByRole('checkbox', { name: /^Choose Example/ }).check();

  const order = await setTime();
  await order.getByRole('button', { name: 'Cancel' }).click();
  await expect(order).toHaveCount(0);
  await teacher.getByRole('checkbox', { name: /^Choose Example/ }).check();
  await setTime();
  await ada.reload();
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();
  // The time comes.
  await house.db.query(
    `UPDATE job j JOIN hand_back_order o ON o.id = j.subject SET j.not_before = NOW(3) WHERE o.assignment_id = ? AND o.state = 'waits'`,
    [c.assignmentId],
  );
  await expect(ada.getByText('You read the hill well.')).toBeVisible();
  await teacher.goto('/news');
  await expect(teacher.getByText(/1 copy of “Map work .*” went back at the time you set/)).toBeVisible();
  await teacher.getByRole('link', { name: 'Outbox' }).click();
  const letter = teacher.getByRole('list', { name: 'Mail' }).getByRole('button', { name: /is back\./ });
  await expect(letter).toContainText('to Ada');
  await letter.click();
  await expect(teacher.getByText('Dear Ada,')).toBeVisible();
});

test('unfinished goes back with words and no grade, then finished; the grade shows when all notes were opened; a question is thought about; by keys alone', async ({
  onDesk,
  as,
}) => {
  const { c, teacher } = await onDesk();
  await note(teacher, 'Count again.');
  await note(teacher, 'Which line?', 0.5, 0.6);
  await teacher.getByLabel(/^Closing words/).fill('On a good way.');
  await saved(teacher);
  await pile(teacher, c);
  await teacher.getByRole('button', { name: 'Hand back', exact: true }).click();
  const dialog = teacher.getByRole('dialog');
  await dialog.getByText('More: unfinished').click();
  await dialog.getByLabel(/^As unfinished/).check();
  await dialog.getByRole('button', { name: 'Hand back 1 copy' }).click();
  await expect(teacher.getByRole('row', { name: /being marked/ })).toContainText('comments went back');

  const ada = await as(c.students[0]!);
  await expect(ada.getByRole('link', { name: /Map work/ })).toContainText('the grade is still to come');
  await ada.getByRole('link', { name: /Map work/ }).click();
  await expect(ada.getByText('Your teacher is not finished yet')).toBeVisible();
  await expect(ada.getByText('Improve and hand in again')).toHaveCount(0);

  await openDesk(teacher, c);
  await teacher.getByLabel(/^Grade/).fill('9');
  await teacher.getByLabel(/^Grade/).press('Enter');
  await saved(teacher);
  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await teacher.getByRole('checkbox', { name: /^Choose Example/ }).check();
  await teacher.getByRole('button', { name: 'Options …' }).click();
  await teacher.getByText('More: unfinished').click();
  await teacher.getByLabel(/^Grade after reading/).check();
  await teacher.getByLabel('A question to think about').fill('What first next time?');
  await teacher.getByRole('dialog').getByRole('button', { name: 'Hand back 1 copy' }).click();

  // By keys alone: each note in turn, and with the last the grade is there.
  await expect(ada.getByText('2 to go')).toBeVisible();
  await expect(ada.getByText(/Grade\s*9/)).toHaveCount(0);
  await ada.keyboard.press('n');
  await expect(ada.getByText('1 to go')).toBeVisible();
  await ada.keyboard.press('n');
  await expect(ada.getByRole('complementary')).toContainText(/Grade\s*9\s*\/ 10/);
  await ada.getByLabel('What first next time?').fill('Count twice.');
  await ada
    .getByRole('region', { name: 'A question to think about' })
    .getByRole('button', { name: 'Send' })
    .press('Enter');
  await expect(ada.getByText('Count twice.')).toBeVisible();
  await teacher.goto('/news');
  await expect(teacher.getByRole('list', { name: 'News' })).toContainText('Count twice.');
});

test('what one said can be edited, and withdrawn: unread it is gone, read it says so', async ({
  onDesk,
  as,
}) => {
  const { c, teacher } = await onDesk();
  const copy = `/copies/${c.people[0]!.copyId}/words`;
  await teacher.goto(copy);
  const field = teacher.getByLabel(/^Write to/);
  await field.fill('Come to me on Tusday.');
  await teacher.getByRole('button', { name: 'Send' }).click();
  await expect(teacher.getByText('not read yet')).toBeVisible();
  await teacher.getByRole('button', { name: 'Edit' }).click();
  await teacher.getByLabel('Change the message').fill('Come to me on Tuesday.');
  await teacher.getByRole('button', { name: 'Save' }).click();
  await expect(teacher.getByText('Come to me on Tuesday.')).toBeVisible();
  await teacher.getByRole('button', { name: 'Withdraw' }).click();
  await expect(teacher.getByText('Come to me on Tuesday.')).toHaveCount(0);

  await field.fill('Bring your map.');
  await teacher.getByRole('button', { name: 'Send' }).click();
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: /Map work/ }).click();
  await expect(ada.getByText('Bring your map.')).toBeVisible();
  await teacher.reload();
  await expect(teacher.getByText(/· read \w/)).toBeVisible();
  await teacher.getByRole('button', { name: 'Withdraw' }).click();
  await expect(teacher.getByText(/withdrawn/)).toBeVisible();
  await ada.reload();
  await ada.getByText(/^Messages with/).click();
  await expect(ada.getByText(/withdrawn/)).toBeVisible();
  await expect(ada.getByText('Bring your map.')).toHaveCount(0);
});

test('a copy comes in again: what became of each note is agreed to by keys, what changed is shown; the second hand-back says it all', async ({
  onDesk,
  as,
  made,
  laid,
}) => {
  const { c, teacher } = await onDesk();
  await mark(teacher);
  await pile(teacher, c);
  await handBackOne(teacher);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: /Map work/ }).click();
  await drawn(ada);
  await ada.keyboard.press('n');
  await ada.getByRole('button', { name: 'Sorted' }).click();
  await expect(ada.getByText('1 of 2 done')).toBeVisible();
  await laid(c, 0, made.written);

  await openDesk(teacher, c);
  const became = teacher.getByRole('region', { name: 'What became of it' });
  await expect(became).toContainText('0 of 2 notes looked at');
  await expect(became).toContainText('Ada called it sorted');
  await expect(teacher.getByRole('region', { name: 'Changed since hand-in 1' })).toContainText(
    'New: page 3, 4.',
  );
  // The page as it was, laid over the page as it is.
  await teacher.getByLabel('Show hand-in 1 on top').fill('60');
  await expect(teacher.locator('[data-as-it-was] canvas[data-drawn]').first()).toBeVisible();
  await teacher.getByLabel('Show hand-in 1 on top').fill('0');
  await expect(teacher.locator('[data-as-it-was]')).toHaveCount(0);
  // One key each, and on to the next.
  await became.getByRole('button', { name: /^Count again/ }).click();
  await teacher.keyboard.press('s');
  await expect(became).toContainText('1 of 2 notes looked at');
  await teacher.keyboard.press('y');
  await expect(became).toContainText('2 of 2 notes looked at');
  await expect(became).toContainText('said again');
  await expect(teacher.getByRole('article', { name: /^Note/ })).toContainText('Which line?');
  await teacher.getByLabel(/^Grade/).fill('9');
  await teacher.getByLabel(/^Grade/).press('Enter');
  await saved(teacher);
  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await pile(teacher, c);
  await handBackOne(teacher);

  await ada.goto('/');
  await ada.getByRole('link', { name: /Map work/ }).click();
  const told = ada.getByRole('region', { name: 'What became of your notes' });
  await expect(told.getByRole('listitem')).toHaveText([
    /Count again\.\s*dealt with/,
    /Which line\?\s*still to do/,
  ]);
  await expect(ada.getByRole('complementary').first()).toContainText(/Grade\s*9\s*\/ 10/);
});
