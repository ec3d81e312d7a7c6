import { atEveryWidth } from './every-width.ts';
import { makeLesson } from './lesson.ts';
import { drag, drawn, expect, handIn, markList, onPage, openDesk, Pen, saved, test, wave } from './story.ts';

test('a copy is marked with the keyboard alone', async ({ makeClass, as, made, laid }) => {
  const c = await makeClass(['Ada', 'Ben']);
  await laid(c, 0, made.written);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  // Three words highlighted, then a note on the next, then taken away and back.
  await teacher.keyboard.press('3');
  for (const key of ['t', 'ArrowRight', 'Shift+ArrowRight', 'Shift+ArrowRight', 'Enter'])
    await teacher.keyboard.press(key);
  await teacher.keyboard.press('6');
  for (const key of ['t', 'ArrowDown', 'Enter']) await teacher.keyboard.press(key);
  await teacher.keyboard.type('Capital letter?');
  await teacher.keyboard.press('Escape');
  expect(await markList(teacher)).toEqual([
    expect.stringContaining('“hill is steep”'),
    expect.stringContaining('note on “and”: Capital letter?'),
  ]);
  await teacher.getByRole('button', { name: /hill is steep/ }).focus();
  await teacher.keyboard.press('Enter');
  await teacher.keyboard.press('Delete');
  await expect(teacher.getByText('1 mark, 1 note')).toBeVisible();
  await teacher.keyboard.press('Control+z');
  await expect(teacher.getByText('2 marks, 1 note')).toBeVisible();
  await teacher.keyboard.press('Control+Shift+z');
  await expect(teacher.getByText('1 mark, 1 note')).toBeVisible();
  await teacher.keyboard.press('?');
  await expect(teacher.getByRole('dialog')).toContainText('Keys at the desk');
  await teacher.keyboard.press('Escape');
  await expect(teacher.getByRole('dialog')).toHaveCount(0);
  await teacher.keyboard.press('g');
  await teacher.keyboard.type('9');
  await teacher.keyboard.press('Control+Enter');
  await expect(teacher.getByRole('row', { name: /Ada marked .* 9$/ })).toBeVisible();
});

test('pen, mouse, finger and palm are told apart', async ({ makeClass, as, made, laid }) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.written);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  await teacher.keyboard.press('1');
  const region = teacher.getByRole('region', { name: 'Pages of the copy' });
  const scrolled = () => region.evaluate((e) => e.scrollTop);
  const cdp = await teacher.context().newCDPSession(teacher);
  const touch = async (type: 'touchStart' | 'touchMove' | 'touchEnd', at: [number, number][]) =>
    cdp.send('Input.dispatchTouchEvent', { type, touchPoints: at.map(([x, y], id) => ({ x, y, id })) });
  const [x, y] = [400, 500];

  // A finger moves the paper and leaves no mark.
  await touch('touchStart', [[x, y]]);
  for (let i = 1; i <= 10; i++) await touch('touchMove', [[x, y - i * 12]]);
  await touch('touchEnd', []);
  await expect.poll(scrolled).toBeGreaterThan(60);
  await expect(teacher.getByText('0 marks, 0 notes')).toBeVisible();

  // The pen writes, with its pressure; the palm that rests meanwhile does nothing.
  // It coasts a little and comes to rest.
  await region.evaluate(async (e) => {
    for (let last = -1; last !== e.scrollTop; ) {
      last = e.scrollTop;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  });
  const pen = await Pen.on(teacher);
  await pen.stroke(await wave(teacher, [0.2, 0.4], [0.6, 0.4]));
  const before = await scrolled();
  await touch('touchStart', [[x, y]]);
  await touch('touchMove', [[x, y - 80]]);
  await touch('touchEnd', []);
  expect(await scrolled()).toBe(before);
  await expect(teacher.getByText('1 mark, 0 notes')).toBeVisible();
  await saved(teacher);
  const pressures = await teacher.evaluate(async () => {
    const copyId = location.pathname.split('/').at(-1);
    const desk = await (await fetch(`/api/desk/${copyId}`)).json();
    return desk.marking.marks[0].mark.points.filter((_: number, i: number) => i % 3 === 2);
  });
  expect(Math.max(...pressures)).toBeGreaterThan(180);
  expect(Math.min(...pressures)).toBeLessThan(80);

  // Two fingers apart make the page larger.
  const width = async () => (await teacher.getByRole('group', { name: /^Page 1/ }).boundingBox())!.width;
  const narrow = await width();
  await teacher.waitForFunction(
    (since) => performance.now() > since + 900,
    await teacher.evaluate(() => performance.now()),
  );
  await touch('touchStart', [
    [x - 40, y],
    [x + 40, y],
  ]);
  for (let i = 1; i <= 6; i++)
    await touch('touchMove', [
      [x - 40 - i * 8, y],
      [x + 40 + i * 8, y],
    ]);
  await touch('touchEnd', []);
  await expect.poll(width).toBeGreaterThan(narrow * 1.4);
});

test('marks are picked, moved, rubbed out and brought back', async ({ makeClass, as, made, laid }) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.written);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.5, 0.5)));
  await teacher.getByLabel('Words of the note').fill('Here');
  await teacher.keyboard.press('Escape');
  await teacher.keyboard.press('h');
  await drag(teacher, [0.5, 0.5], [0.7, 0.6]);
  await teacher.keyboard.press('Control+z');
  await teacher.keyboard.press('Control+Shift+z');
  await teacher.keyboard.press('e');
  await drag(teacher, [0.5, 0.45], [0.5, 0.55]);
  await expect(teacher.getByText('1 mark, 1 note')).toBeVisible();
  await drag(teacher, [0.68, 0.6], [0.72, 0.6]);
  await expect(teacher.getByText('0 marks, 0 notes')).toBeVisible();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByText('1 mark, 1 note')).toBeVisible();
  // A note that says nothing goes by itself.
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.3, 0.3)));
  await expect(teacher.getByLabel('Words of the note')).toBeFocused();
  await teacher.keyboard.press('Escape');
  await expect(teacher.getByText('1 mark, 1 note')).toBeVisible();
});

test('a page is turned, kept turned, and writing on it lands where the pen was', async ({
  makeClass,
  as,
  made,
  laid,
}) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.scan);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  await teacher.keyboard.press('r');
  const shown = async () => (await teacher.getByRole('group', { name: /^Page 1/ }).boundingBox())!;
  const lies = () => expect.poll(async () => (await shown()).width > (await shown()).height);
  await lies().toBe(true);
  // Undo turns it back, and redo turns it again.
  await teacher.keyboard.press('Control+z');
  await lies().toBe(false);
  await teacher.getByRole('button', { name: 'Redo' }).click();
  await lies().toBe(true);
  await teacher.keyboard.press('3');
  await drag(teacher, [0.25, 0.5], [0.5, 0.5]);
  expect(await markList(teacher)).toEqual([expect.stringContaining('free highlight')]);
  await saved(teacher);
  await teacher.reload();
  await drawn(teacher);
  await expect.poll(async () => (await shown()).width > (await shown()).height).toBe(true);
  // Turned clockwise, what is shown at (0.25, 0.5) lies on the unturned page at x = 0.5 of its width, y = 0.75 of its height.
  const first = await teacher.evaluate(async () => {
    const desk = await (await fetch(`/api/desk/${location.pathname.split('/').at(-1)}`)).json();
    return desk.marking.marks[0].mark.place.points.slice(0, 2);
  });
  expect(first[0] / 100 / 595).toBeCloseTo(0.5, 1);
  expect(first[1] / 100 / 842).toBeCloseTo(0.75, 1);
});

test('the views for setting work have nothing that axe objects to', async ({ makeClass, as, made }) => {
  const c = await makeClass(['Ada']);
  const teacher = await as(c.teacher);
  const look = (name: string) => atEveryWidth(teacher, name);
  await teacher.goto('/classes');
  await teacher.getByLabel('Name of the class').waitFor();
  await look('classes');
  await teacher.getByRole('link', { name: /1 student/ }).click();
  await teacher.getByRole('button', { name: 'New assignment' }).waitFor();
  await look('class');
  await teacher.getByRole('link', { name: /^Register/ }).click();
  await teacher.getByLabel(/^Names, one a line/).fill('Zoe Example\n=x');
  await teacher.getByRole('button', { name: 'Preview' }).click();
  await teacher.getByRole('button', { name: 'Add 1 student' }).waitFor();
  await look('register');
  await teacher.goto(`/assignments/${c.assignmentId}`);
  await teacher.getByRole('textbox', { name: 'Instructions' }).waitFor();
  await look('assignment');
  await teacher.goto('/worksheets');
  await teacher.getByLabel('File for a new worksheet').setInputFiles(made.written);
  await drawn(teacher);
  await teacher.keyboard.press('n');
  await teacher.getByRole('button', { name: /^Question 1/ }).waitFor();
  await look('worksheet');
  await teacher.goto('/account');
  await teacher.getByLabel('Current password').waitFor();
  await look('account');
  for (const [address, name] of [
    ['/bank', 'Comment bank'],
    ['/rubrics', 'Rubrics'],
    ['/news', 'News'],
    ['/worksheets', 'Worksheets'],
  ]) {
    await teacher.goto(address!);
    await teacher.getByRole('heading', { level: 1, name: name! }).waitFor();
    await look(name!);
  }
});

test('the main views have nothing that axe objects to', async ({ makeClass, as, made, page }) => {
  const c = await makeClass(['Ada', 'Ben']);
  const ada = await as(c.students[0]!);
  const look = atEveryWidth;
  await page.goto(`${process.env.E2E_ADDRESS}/`);
  await page.getByRole('button', { name: 'Sign in', exact: true }).waitFor();
  await look(page, 'sign-in');
  await look(ada, 'my work');
  await ada.getByRole('link', { name: c.title }).click();
  await ada.getByText('Drag files or photos here').waitFor();
  await look(ada, 'hand in');
  await handIn(ada, c.title, made.written);
  const teacher = await as(c.teacher);
  await teacher.getByText('1 copy to mark').waitFor();
  await look(teacher, 'today');
  await openDesk(teacher, c);
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.5, 0.5)));
  await teacher.getByLabel('Words of the note').fill('Look here');
  await teacher.keyboard.press('Escape');
  await markList(teacher);
  await look(teacher, 'desk');
  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await teacher.getByRole('button', { name: 'Hand back 1 copy' }).click();
  await look(teacher, 'hand back');
  await teacher.getByRole('dialog').getByRole('button', { name: 'Hand back 1 copy' }).click();
  await teacher.getByRole('row', { name: /handed back/ }).waitFor();
  await look(teacher, 'pile');
  await ada.reload();
  await drawn(ada);
  await look(ada, 'marked copy');
});

test('the room, a close look, the trail and the pile as sheets have nothing that axe objects to', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben']);
  const lesson = await makeLesson(house, c, made.written);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: lesson.title }).click();
  await drawn(ada);
  await ada.getByLabel('Answer to 1').fill('north of the hut');
  const teacher = await as(c.teacher);
  const look = (name: string) => atEveryWidth(teacher, name);
  await teacher.goto(`/room/${lesson.assignmentId}`);
  await teacher.getByText('north of the hut').waitFor();
  await look('room');
  await teacher.getByRole('listitem', { name: /^Ada / }).getByRole('link').click();
  await drawn(teacher);
  await look('close look');
  await teacher.getByRole('link', { name: 'Working trail' }).click();
  await drawn(teacher);
  await teacher.getByText('came north of the hut').waitFor();
  await look('trail');
  await handIn(ada, c.title, made.written);
  await teacher.goto(`/piles/${c.assignmentId}`);
  await teacher.getByRole('button', { name: 'Pages' }).click();
  await teacher.getByRole('link', { name: /^Open the copy of Ada/ }).waitFor();
  await look('pile as sheets');
});
