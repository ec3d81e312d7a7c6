import { execFileSync } from 'node:child_process';
import { readFile, writeFile } from 'node:fs/promises';
import {
  addPerson,
  addWorksheet,
  addWorksheetFile,
  type House,
  newId,
  Opener,
  readWorksheet,
  setAssignment,
} from '@jotmark/server';
import { makeOffice } from '@jotmark/server/made-elsewhere';
import type { Page } from '@playwright/test';
import {
  added,
  type Class,
  confirmHandIn,
  drawn,
  dropFile,
  expect,
  line,
  openDesk,
  openDeskOf,
  PASSWORD,
  saved,
  test,
  testFolder,
} from './story.ts';

/** Sets a worksheet of two lines for the class, as its teacher would. */
async function setSheet(house: House, c: Class, path: string): Promise<string> {
  const [row] = await house.db.query(
    `SELECT p.*, m.class_id FROM person p JOIN membership m ON m.person_id = p.id WHERE p.login = ?`,
    [c.teacher],
  );
  const opener = new Opener();
  const copy = testFolder(`sheet-${Date.now()}.pdf`);
  await writeFile(copy, await readFile(path));
  const id = await addWorksheetFile(
    house,
    opener,
    row,
    [{ path: copy, name: 'Island.pdf' }],
    [line(0), line(1)],
  );
  await expect.poll(async () => (await readWorksheet(house, row, id)).document.reading.state).toBe('done');
  opener.close();
  const title = `Island ${newId(house).slice(0, 13)}`;
  await setAssignment(
    house,
    { classId: row.class_id, title, instructions: '', dueAt: null, most: 200 },
    (a) => addWorksheet(house, a, id),
  );
  return title;
}

async function openCopy(student: Page, title: string): Promise<void> {
  await student.goto('/');
  await student.getByRole('link', { name: title }).click();
  await drawn(student);
}

test('a class list with mistakes is shown with what is wrong in which line, and the good ones come in', async ({
  house,
  as,
}) => {
  const tag = newId(house).slice(9, 18);
  await addPerson(house, {
    role: 'teacher',
    login: `csv-${tag}`,
    given: 'Ova',
    family: 'Newcomb',
    password: PASSWORD,
  });
  const teacher = await as(`csv-${tag}`);
  await teacher.goto('/classes');
  await teacher.getByLabel('Name of the class').fill('7C');
  await teacher.getByRole('button', { name: 'Make the class' }).click();
  const csv = `\uFEFFFamily name;First name;Login\r\nStone-${tag};Ada;\r\n=1+1;Ben;\r\nStone-${tag};Ada;\r\nKamau;"Wanjiru;\r\nOduya;Cy;Cy!\r\nBäcklund;Tove;tove.${tag.toLowerCase()}\r\n`;
  await teacher
    .getByLabel('CSV file with students')
    .setInputFiles({ name: 'class.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  const wrong = teacher.getByRole('list', { name: 'Lines with something wrong' });
  await expect(wrong.getByRole('listitem')).toHaveText([
    /Line 3 .*begins like a formula/,
    /Line 4 .*the same as line 2/,
    /Line 5.*quotation mark is never closed/,
    /Line 6 .*“cy!” cannot be a login/,
  ]);
  await expect(teacher.getByText('2 new, gets an account · 4 lines not taken')).toBeVisible();
  await teacher.getByRole('button', { name: 'Add 2 students' }).click();
  await expect(teacher.getByRole('region', { name: 'First passwords' }).getByRole('listitem')).toHaveCount(2);
  await teacher.getByRole('button', { name: 'Done' }).click();
  await teacher.getByRole('button', { name: 'Leave without printing' }).click();
  await expect(teacher.getByText(`tove.${tag.toLowerCase()}`)).toBeVisible();

  const long = Array.from({ length: 10_000 }, (_, i) => `Stone;Ada${i};`).join('\n');
  await teacher
    .getByLabel('CSV file with students')
    .setInputFiles({ name: 'all.csv', mimeType: 'text/csv', buffer: Buffer.from(long) });
  await expect(teacher.getByRole('alert')).toContainText(
    '10,000 lines; a class has at most 1,000 students. Nothing was changed.',
  );
});

test('families read instructions and date by an address that can be revoked', async ({
  makeClass,
  as,
  browser,
}) => {
  const c = await makeClass(['Ada']);
  const teacher = await as(c.teacher);
  await teacher.goto(`/assignments/${c.assignmentId}`);
  await teacher.getByRole('button', { name: 'Link to look at' }).click();
  await teacher.getByLabel('Address', { exact: true }).last().fill('shore.example/tides');
  await teacher.getByLabel(/^Name \(optional\)/).fill('Tide times');
  await teacher.getByRole('button', { name: 'Add the link' }).click();
  await teacher.getByRole('button', { name: 'Make an address' }).click();
  const address = await teacher.getByLabel('Address for families').inputValue();
  // On the board it is a code, which another program reads.
  await teacher.getByRole('button', { name: 'Show as a code' }).click();
  const shot = test.info().outputPath('code.png');
  await teacher.getByRole('img', { name: /^Code of/ }).screenshot({ path: shot });
  expect(execFileSync('zbarimg', ['--quiet', '--raw', shot], { encoding: 'utf8' }).trim()).toBe(address);
  // Printed it stands alone.
  const paper = test.info().outputPath('code.pdf');
  await teacher.pdf({ path: paper });
  const printed = execFileSync('pdftotext', [paper, '-'], { encoding: 'utf8' });
  expect(printed.replace(/\s/g, '')).toContain(address);
  expect(printed).not.toContain('Instructions');
  await teacher.getByRole('button', { name: 'Close' }).click();
  const context = await browser.newContext();
  const parent = await context.newPage();
  await parent.goto(address);
  await expect(parent.getByRole('heading', { name: c.title })).toBeVisible();
  await expect(parent.getByRole('link', { name: 'Open shore.example' })).toHaveAttribute(
    'href',
    'https://shore.example/tides',
  );
  await expect(parent.getByText(/Ada|Quill/)).toHaveCount(0);
  await teacher.getByRole('button', { name: 'Revoke' }).click();
  await expect(teacher.getByRole('button', { name: 'Make an address' })).toBeVisible();
  await parent.reload();
  await expect(parent.getByRole('alert')).toContainText('There is nothing here that you can see');
  await context.close();
});

test('several files of several kinds go in one hand-in, in the student’s order, and open at the desk', async ({
  makeClass,
  as,
  made,
}) => {
  const office = await makeOffice(testFolder('office'));
  const c = await makeClass(['Ada']);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  await dropFile(ada, made.written, office.photo, office.docx, office.webm);
  for (const file of [made.written, office.photo, office.docx, office.webm]) await added(ada, file);
  await ada.getByRole('button', { name: 'Add a link instead' }).click();
  await ada.getByLabel('Address of the link').fill('island.example/walk');
  await ada.getByRole('button', { name: 'Add the link' }).click();
  await expect(ada.getByText('https://island.example/walk')).toBeVisible();

  // The photo goes first, by keyboard; the order holds after a reload.
  const grip = ada.getByRole('button', { name: 'Move photo.jpg', exact: true });
  await grip.focus();
  await ada.keyboard.press('Space');
  // Who hears the page is told in words.
  await expect(ada.getByText('photo.jpg is now second of five.')).toBeVisible();
  await ada.keyboard.press('ArrowUp');
  await expect(ada.getByText('photo.jpg is now first of five.')).toBeVisible();
  await ada.keyboard.press('Space');
  const names = ada
    .getByRole('region', { name: 'Your files' })
    .getByRole('listitem')
    .getByRole('button', { name: /^Move/ });
  await expect(names.first()).toHaveAccessibleName('Move photo.jpg');
  await ada.reload();
  await expect(names.first()).toHaveAccessibleName('Move photo.jpg');
  await confirmHandIn(ada);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();

  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  await expect(teacher.getByRole('group', { name: /^Page \d of 4/ })).toHaveCount(4);
  await expect(teacher.getByRole('heading', { level: 2, name: 'photo.jpg' })).toBeVisible();
  await expect(teacher.getByRole('link', { name: 'Open island.example' })).toHaveAttribute('rel', /noopener/);
  const film = teacher.getByRole('region', { name: 'walk.webm' }).locator('video');
  await expect.poll(() => film.evaluate((v: HTMLVideoElement) => v.readyState)).toBeGreaterThan(0);
  // A note on the second document stays with it.
  await teacher.keyboard.press('5');
  const second = teacher.getByRole('group', { name: 'Page 2 of 4' });
  await second.scrollIntoViewIfNeeded();
  await second.click({ position: { x: 200, y: 200 } });
  await teacher.getByLabel('Words of the note').fill('On the written page.');
  await teacher.keyboard.press('Escape');
  await saved(teacher);
  await teacher.reload();
  await drawn(teacher);
  await expect(teacher.getByText('1 mark, 1 note')).toBeVisible();
});

test('a copy is taken back, improved and handed in again, until marking has begun', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const title = await setSheet(house, c, made.written);
  const ada = await as(c.students[0]!);
  await openCopy(ada, title);
  await ada.getByLabel('Answer to 1').fill('first try');
  await saved(ada);
  await confirmHandIn(ada);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();
  await ada.getByRole('button', { name: 'Take back and go on working' }).click();
  await ada.getByLabel('Answer to 1').fill('second try');
  await saved(ada);
  await ada.keyboard.press('Control+z');
  await expect(ada.getByLabel('Answer to 1')).toHaveValue('first try');
  await ada.keyboard.press('Control+Shift+z');
  await expect(ada.getByLabel('Answer to 1')).toHaveValue('second try');
  await saved(ada);
  await confirmHandIn(ada, 'Now it is right.');
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();

  const teacher = await as(c.teacher);
  await openDeskOf(teacher, title, /, Ada$/);
  await teacher.getByLabel(/^Grade/).fill('1');
  await teacher.keyboard.press('Enter');
  await saved(teacher);
  await ada.getByRole('button', { name: 'Take back and go on working' }).click();
  await expect(ada.getByRole('alert')).toContainText('This can’t be taken back.');
});

test('what is typed and handed in without a network waits on the device and arrives by itself', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const title = await setSheet(house, c, made.written);
  const ada = await as(c.students[0]!);
  await openCopy(ada, title);
  await ada.getByLabel('Answer to 1').fill('with a network');
  await saved(ada);
  await ada.context().setOffline(true);
  await ada.getByLabel('Answer to 2').fill('without one');
  await expect(ada.getByText(/^Kept on this device/)).toBeVisible();
  await confirmHandIn(ada, 'On the train.');
  await expect(ada.getByText('Waits for the network.')).toBeVisible();
  await expect(ada.getByLabel('Answer to 2')).not.toBeEditable();
  const teacher = await as(c.teacher);
  await teacher.goto('/');
  await expect(teacher.getByText('On the train.')).toHaveCount(0);
  await ada.context().setOffline(false);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();
  await expect(ada.getByText(/You pressed “Hand in”/)).toBeVisible();
  await teacher.reload();
  await expect(teacher.getByText('On the train.')).toBeVisible();
  await openDeskOf(teacher, title, /, Ada$/);
  await expect(teacher.getByText(/without a network; by the device/)).toBeVisible();
});

test('two tabs in one copy see each other; the same answer changed in both becomes a choice', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const title = await setSheet(house, c, made.written);
  const one = await as(c.students[0]!);
  await openCopy(one, title);
  const two = await one.context().newPage();
  await two.goto(one.url());
  await drawn(two);
  await one.getByLabel('Answer to 1').fill('seen in both');
  await expect(two.getByLabel('Answer to 1')).toHaveValue('seen in both');
  await two.context().setOffline(true);
  await one.getByLabel('Answer to 2').fill('here');
  await two.getByLabel('Answer to 2').fill('there');
  await expect(two.getByText(/^Kept on this device/)).toBeVisible();
  await two.context().setOffline(false);
  const asked = one.getByText('The answer to question 2 was changed in two places.');
  const other = two.getByText('The answer to question 2 was changed in two places.');
  await expect.poll(async () => (await asked.count()) + (await other.count())).toBeGreaterThan(0);
  const who = (await other.count()) ? two : one;
  await who.getByRole('button', { name: 'Keep what was done here' }).click();
  await saved(who);
  await expect(who.getByText('was changed in two places')).toHaveCount(0);
});

test('on a telephone an answer is written large, above the keyboard', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const title = await setSheet(house, c, made.written);
  const ada = await as(c.students[0]!);
  await ada.setViewportSize({ width: 390, height: 844 });
  await openCopy(ada, title);
  await ada.getByLabel('Answer to 1').first().click();
  await ada.locator('#answer-large').fill('Tarn Hut');
  await ada.getByRole('button', { name: 'Next answer' }).click();
  await ada.locator('#answer-large').fill('3 km');
  await ada.getByRole('button', { name: 'Back to the page' }).click();
  await saved(ada);
  await ada.reload();
  await expect(ada.getByLabel('Answer to 1')).toHaveValue('Tarn Hut');
  await expect(ada.getByLabel('Answer to 2')).toHaveValue('3 km');
});

test('work with nothing to hand in is called done', async ({ house, makeClass, as }) => {
  const c = await makeClass(['Ada']);
  const [row] = await house.db.query('SELECT class_id FROM assignment WHERE id = ?', [c.assignmentId]);
  await setAssignment(house, {
    classId: row.class_id,
    title: 'Read the chapter',
    instructions: 'Pages 40 to 46.',
    dueAt: null,
    most: null,
    handsIn: false,
  });
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: 'Read the chapter' }).click();
  await expect(ada.getByText('Pages 40 to 46.')).toBeVisible();
  await ada.getByRole('button', { name: 'I have done this' }).click();
  await ada.getByRole('dialog').getByRole('button', { name: 'Done' }).click();
  await expect(ada.getByText('Done', { exact: true })).toBeVisible();
});
