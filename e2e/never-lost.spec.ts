import type { Page } from '@playwright/test';
import { drag, drawn, expect, onPage, openDesk, Pen, saved, test, wave } from './story.ts';

/** The tab is closed as it stands; another one opens at the same address. */
async function closedAndOpened(page: Page): Promise<Page> {
  const context = page.context();
  const address = page.url();
  await page.close({ runBeforeUnload: false });
  const again = await context.newPage();
  await again.goto(address);
  await drawn(again);
  return again;
}

test('marking goes on with the network cut, survives a reload, and is sent when it is back', async ({
  makeClass,
  as,
  made,
  laid,
}) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.printed);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  await teacher.keyboard.press('1');
  await teacher.route('**/changes*', (route) => route.abort('internetdisconnected'));
  const pen = await Pen.on(teacher);
  await pen.stroke(await wave(teacher, [0.2, 0.5], [0.5, 0.5]));
  await pen.stroke(await wave(teacher, [0.2, 0.6], [0.5, 0.6]));
  await teacher.getByLabel(/^Grade/).fill('7');
  await teacher.keyboard.press('Enter');
  await expect(teacher.getByText('Kept on this device: 3 changes')).toBeVisible();

  // The lid is closed and opened; the server still cannot be reached for changes.
  await teacher.reload();
  await drawn(teacher);
  await expect(teacher.getByText('2 marks, 0 notes')).toBeVisible();
  await expect(teacher.getByLabel(/^Grade/)).toHaveValue('7');
  await expect(teacher.getByText('Kept on this device: 3 changes')).toBeVisible();

  await teacher.unroute('**/changes*');
  await teacher.evaluate(() => window.dispatchEvent(new Event('online')));
  await saved(teacher);
  const other = await as(c.teacher);
  await openDesk(other, c);
  await expect(other.getByText('2 marks, 0 notes')).toBeVisible();
});

test('what was left on this device is sent from Today, without opening the copy', async ({
  makeClass,
  as,
  made,
  laid,
}) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.printed);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  await teacher.route('**/changes*', (route) => route.abort('internetdisconnected'));
  await teacher.getByLabel(/^Closing words/).fill('Dinner called.');
  await expect(teacher.getByText(/Kept on this device/)).toBeVisible();
  await teacher.goto('about:blank');
  await teacher.unroute('**/changes*');
  const sent = teacher.waitForResponse(
    (r) => r.url().includes('/changes') && r.request().method() === 'POST',
  );
  await teacher.goto('/');
  expect((await sent).status()).toBe(200);
  const other = await as(c.teacher);
  await openDesk(other, c);
  await expect(other.getByLabel(/^Closing words/)).toHaveValue('Dinner called.');
});

test('words of a note are kept though the tab is closed right after typing', async ({
  makeClass,
  as,
  made,
  laid,
}) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.printed);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.5, 0.6)));
  await teacher.getByLabel('Words of the note').fill('Nearly lost');
  const again = await closedAndOpened(teacher);
  await expect(again.getByRole('article', { name: /Note/ })).toContainText('Nearly lost');
});

test('a tab is closed in the middle of a stroke: what was drawn of it is there in the next one', async ({
  onDesk,
}) => {
  const { teacher } = await onDesk();
  await teacher.keyboard.press('1');
  const pen = await Pen.on(teacher);
  const [first, ...rest] = await wave(teacher, [0.2, 0.5], [0.5, 0.5]);
  await pen.down(...first!);
  for (const point of rest) await pen.move(...point);
  const again = await closedAndOpened(teacher);
  await expect(again.getByText('1 mark, 0 notes')).toBeVisible();
  await saved(again);
});

test('two tabs see each other’s marks; the same note changed in both becomes a choice', async ({
  makeClass,
  as,
  made,
  laid,
}) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.printed);
  const one = await as(c.teacher);
  await openDesk(one, c);
  await one.keyboard.press('5');
  await one.mouse.click(...(await onPage(one, 0.5, 0.5)));
  await one.getByLabel('Words of the note').fill('Start');
  await one.keyboard.press('Escape');
  await saved(one);
  const two = await one.context().newPage();
  await two.goto(one.url());
  await drawn(two);
  const noteIn = (page: typeof one) => page.getByRole('article', { name: /Note/ });
  await expect(noteIn(two)).toContainText('Start');

  // A mark made in one tab shows in the other without being asked for.
  await two.keyboard.press('1');
  await drag(two, [0.2, 0.7], [0.5, 0.72]);
  await expect(one.getByText('2 marks, 1 note')).toBeVisible();

  // The second tab does not hear of the change that the first makes, and changes the same note.
  await two.route('**/changes?*', (route) => route.abort('internetdisconnected'));
  await noteIn(one).getByRole('button', { name: 'Start' }).click();
  await one.getByLabel('Words of the note').fill('As tab one says');
  await one.keyboard.press('Escape');
  await saved(one);
  await noteIn(two).getByRole('button', { name: 'Start' }).click();
  await two.getByLabel('Words of the note').fill('As tab two says');
  await two.keyboard.press('Escape');
  await two.unroute('**/changes?*');
  const choice = two.getByRole('alert').filter({ hasText: 'This note was changed in two places' });
  await expect(choice).toContainText('As tab two says');
  await expect(choice).toContainText('As tab one says');
  await choice.getByRole('button', { name: 'Keep what was done here' }).click();
  await expect(choice).toHaveCount(0);
  await expect(noteIn(two)).toContainText('As tab two says');
  await expect(noteIn(one)).toContainText('As tab two says');
});

test('a grade typed into the pile and words to a student wait without a network, through a reload, and arrive', async ({
  makeClass,
  as,
  made,
  laid,
}) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.printed);
  const teacher = await as(c.teacher);
  await teacher.goto(`/piles/${c.assignmentId}`);
  const grade = teacher.getByLabel(/^Grade of Ada/);
  await teacher.route('**/changes*', (route) => route.abort('internetdisconnected'));
  await grade.fill('7');
  await grade.press('Enter');
  await expect(teacher.getByText('Kept on this device: 1 change')).toBeVisible();
  await grade.fill('7.5');
  await grade.press('Enter');
  await expect(teacher.getByText('Kept on this device: 2 changes')).toBeVisible();
  await teacher.reload();
  await expect(grade).toHaveValue('7½');
  await expect(teacher.getByText('Kept on this device: 2 changes')).toBeVisible();
  await teacher.unroute('**/changes*');
  await teacher.evaluate(() => window.dispatchEvent(new Event('online')));
  await expect(teacher.getByText(/Kept on this device/)).toHaveCount(0);

  await openDesk(teacher, c);
  await expect(teacher.getByLabel(/^Grade/)).toHaveValue('7½');
  await teacher.route('**/messages', (route) =>
    route.request().method() === 'POST' ? route.abort('internetdisconnected') : route.continue(),
  );
  await teacher.getByText(/^Messages with Ada/).click();
  await teacher.getByLabel(/^Write to/).fill('Well begun.');
  await teacher.getByRole('button', { name: 'Send' }).click();
  await expect(teacher.getByText('kept on this device, sent when there is a network')).toBeVisible();
  await teacher.unroute('**/messages');
  await teacher.evaluate(() => window.dispatchEvent(new Event('online')));
  await expect(teacher.getByText('kept on this device, sent when there is a network')).toHaveCount(0);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).first().click();
  await expect(ada.getByText('Well begun.').first()).toBeVisible();
});
