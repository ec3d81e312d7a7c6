import { atEveryWidth } from './every-width.ts';
import { expect, test } from './story.ts';

test('a mark book: a grade typed in passing, a column pasted, what cannot be read told, one key takes it back; typed without a network it arrives', async ({
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben', 'Cyd']);
  for (const n of [0, 1, 2]) await laid(c, n, made.written);
  const teacher = await as(c.teacher);
  await teacher.getByRole('link', { name: 'Classes', exact: true }).click();
  await teacher.getByRole('link', { name: '7X' }).first().click();
  await teacher.getByRole('link', { name: 'Mark book' }).click();
  const grade = (name: string) => teacher.getByLabel(new RegExp(`^Grade of ${name}`));
  await grade('Ada').focus();
  await grade('Ada').fill('7,5');
  await grade('Ada').press('Enter');
  await expect(grade('Ben')).toBeFocused();
  const total = (name: string) =>
    teacher
      .getByRole('row', { name: new RegExp(name) })
      .locator('td')
      .last();
  await expect(total('Ada')).toHaveText('75');

  // From a spreadsheet, with a word among the numbers.
  await teacher.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', '8\nabsent\n');
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true }),
    );
  });
  await expect(teacher.getByText('1 grade pasted. 1 was not taken: Cyd: “absent”')).toBeVisible();
  await expect(grade('Ben')).toHaveValue('8');
  await teacher.keyboard.press('Escape');
  await teacher.keyboard.press('Control+z');
  await expect(grade('Ben')).toHaveValue('');

  await atEveryWidth(teacher, 'mark book');
  await teacher.context().setOffline(true);
  await grade('Cyd').focus();
  await grade('Cyd').fill('9');
  await grade('Cyd').press('Enter');
  await expect(total('Cyd')).toHaveText('90');
  await teacher.context().setOffline(false);
  const pile = await as(c.teacher);
  await pile.goto(`/piles/${c.assignmentId}`);
  await expect(pile.getByLabel(/^Grade of Cyd/)).toHaveValue('9');
  await expect(pile.getByLabel(/^Grade of Ada/)).toHaveValue('7½');

  // How it adds up is a sentence, and kept.
  await teacher.getByText(/Points are added up within each kind of work/).click();
  // The sentence is the server's answer: what it says is kept.
  const kept = teacher.waitForResponse((r) => r.url().includes('/rule') && r.ok());
  await teacher.getByLabel('Missing work').selectOption('counts 0');
  await kept;
  await teacher.reload();
  await expect(teacher.getByText(/Missing work counts 0/)).toBeVisible();

  // Sorted by the grades of a piece of work; hidden it counts all the same.
  await teacher.getByLabel('Order').selectOption({ label: `By ${c.title}` });
  await expect(teacher.getByRole('row').nth(1)).toContainText('Cyd');
  await teacher.getByRole('button', { name: 'Columns' }).click();
  await teacher.getByRole('menuitem', { name: c.title }).click();
  await expect(teacher.getByRole('button', { name: 'Columns, 1 hidden' })).toBeVisible();
  await expect(grade('Ada')).toHaveCount(0);
  await expect(total('Ada')).toHaveText('75');
  // A term in which nothing is due leaves it out.
  await teacher.getByText(/Missing work counts 0/).click();
  await teacher.getByLabel('Name of a new term').fill('Long ago');
  await teacher.getByLabel('First day of the term').fill('2001-09-01');
  await teacher.getByLabel('Last day of the term').fill('2001-12-20');
  await teacher.getByRole('button', { name: 'Add term' }).click();
  await teacher.getByLabel('Term', { exact: true }).selectOption('Long ago');
  await expect(total('Ada')).toHaveText('');
});
