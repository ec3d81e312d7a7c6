import { randomUUID } from 'node:crypto';
import { AssignmentTable, addPerson, update } from '@jotmark/server';
import type { Page } from '@playwright/test';
import { Secret, TOTP } from 'otpauth';
import { atEveryWidth } from './every-width.ts';
import { chooseOwn, drawn, expect, openDesk, PASSWORD, saved, test } from './story.ts';

/** By the form, as a person does. */
async function signIn(page: Page, login: string, password = PASSWORD): Promise<void> {
  await page.getByLabel('Login').fill(login);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
}

/** What is written down on the page of a first password: its login and the password. */
const told = async (page: Page): Promise<[login: string, password: string]> => {
  const slip = page.getByRole('status').filter({ hasText: 'Give these to' });
  await expect(slip).toBeVisible();
  const words = await slip.locator('dd').allInnerTexts();
  return [words[0]!, words[1]!];
};

test('an administrator makes a teacher, gives a student a new password, lets one into a class, and makes two accounts one', async ({
  house,
  makeClass,
  as,
  browser,
}) => {
  const [one, other] = [await makeClass(['Kim', 'Ola']), await makeClass(['Kim'])];
  const tag = randomUUID().slice(0, 6);
  await addPerson(house, {
    role: 'administrator',
    given: 'Bram',
    family: `Ossler-${tag}`,
    login: `bram.${tag}`,
    password: PASSWORD,
  });
  const office = await as(`bram.${tag}`);
  await expect(office.getByRole('heading', { name: 'People' })).toBeVisible();
  await atEveryWidth(office, 'people');

  // A teacher who begins today.
  const add = office.getByRole('main');
  await add.getByText('New teacher or administrator').click();
  await add.getByLabel('Given name').fill('Io');
  await add.getByLabel('Family name').fill('Marsh');
  await add.getByLabel('Login', { exact: true }).fill(`io.${tag}`);
  await add.getByRole('button', { name: 'Add', exact: true }).click();
  const [login, password] = await told(office);
  const context = await browser.newContext({ baseURL: process.env.E2E_ADDRESS! });
  const teacher = await context.newPage();
  await teacher.goto('/');
  await signIn(teacher, login, password);
  await chooseOwn(teacher);
  await expect(teacher.getByRole('heading', { name: 'Today' })).toBeVisible();

  // She wants a student whom she does not have: the office says yes.
  await teacher.goto('/classes');
  await teacher.getByLabel('Name of the class').fill('9Q');
  await teacher.getByRole('button', { name: 'Make the class' }).click();
  await teacher.getByLabel(/^Names, one a line/).fill(`given,family,login\nKim,Example,${one.students[0]}`);
  await teacher.getByRole('button', { name: 'Preview' }).click();
  await teacher.getByRole('button', { name: `Ask for ${one.students[0]}` }).click();
  await expect(teacher.getByText(/is in the class as soon as somebody agrees/)).toBeVisible();
  await office.reload();
  const line = office.getByRole('listitem').filter({ hasText: 'Io Marsh wants to take' });
  await line.getByRole('button', { name: 'Agree' }).click();
  await expect(office.getByText(/is in 9Q now/)).toBeVisible();
  await teacher.goto('/classes');
  await expect(teacher.getByRole('link', { name: /9Q/ })).toContainText('1 student');

  // Kim is there twice.
  await office.getByLabel('Name or login').fill(one.students[0]!);
  await office.getByRole('button', { name: `Kim Example-${one.students[0]!.split('.')[1]}` }).click();
  const dialog = office.getByRole('dialog');
  await dialog.getByLabel('Login of the other account, which goes').fill(other.students[0]!);
  await expect(dialog.getByText(/becomes Kim Example/)).toContainText('1 copy of work, 1 class');
  await dialog.getByRole('button', { name: 'Make both one account' }).click();
  await expect(office.getByText('Both are one account now')).toBeVisible();
  const kim = await as(one.students[0]!);
  await expect(kim.getByRole('link', { name: one.title })).toBeVisible();
  await expect(kim.getByRole('link', { name: other.title })).toBeVisible();

  // Ola has forgotten hers; she is told who made the new one.
  await office.getByLabel('Name or login').fill(one.students[1]!);
  await office.getByRole('button', { name: `Ola Example-${one.students[1]!.split('.')[1]}` }).click();
  await dialog.getByRole('button', { name: 'New password …' }).click();
  await dialog.getByRole('button', { name: /^Make a new password for Ola/ }).click();
  const [, again] = await told(office);
  await teacher.getByRole('button', { name: 'Sign out' }).click();
  await signIn(teacher, one.students[1]!, again);
  await expect(teacher.getByText(/Bram Ossler.* made you a new password, today/)).toBeVisible();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await office.getByText('Who changed accounts').click();
  await expect(office.getByText(/made a new password: Ola Example/)).toBeVisible();
  await context.close();
});

test('a teacher sees where she is signed in, ends the others, and sets a second step before her password', async ({
  makeClass,
  as,
}) => {
  const c = await makeClass(['Ada']);
  const [here, there] = [await as(c.teacher), await as(c.teacher)];
  await here.goto('/account');
  const sessions = here.getByRole('region', { name: 'Signed in' });
  await expect(sessions.getByRole('listitem')).toHaveCount(2);
  await atEveryWidth(here, 'account');
  await sessions.getByRole('button', { name: 'Sign out everywhere else' }).click();
  await expect(sessions.getByRole('listitem')).toHaveCount(1);
  await there.reload();
  await expect(there.getByLabel('Login')).toBeVisible();

  const step = here.getByRole('region', { name: 'Second step' });
  await step.getByLabel('Your password once more').fill(PASSWORD);
  await step.getByRole('button', { name: 'Set it up' }).click();
  const seed = ((await step.locator('p.font-mono').textContent()) ?? '').replace(/\s/g, '');
  const codes = new TOTP({ algorithm: 'SHA1', digits: 6, period: 30, secret: Secret.fromBase32(seed) });
  await step.getByLabel('The six digits it shows now').fill(codes.generate());
  await step.getByRole('button', { name: 'Turn it on' }).click();
  await expect(step.getByText('It is on:')).toBeVisible();
  await atEveryWidth(here, 'second step');

  await signIn(there, c.teacher);
  await expect(there.getByRole('alert')).toContainText('six digits');
  await there.getByLabel('Code from your app').fill('000000');
  await there.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(there.getByRole('alert')).toContainText('not right');
  // Each code counts once: the one that turned it on is used up, the next moment's is not.
  await there.getByLabel('Code from your app').fill(codes.generate({ timestamp: Date.now() + 30_000 }));
  await there.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(there.getByRole('button', { name: 'Sign out' })).toBeVisible();
});

test('work can be taken back until it is due: the student sees until when, the teacher ends it to mark, and nothing tells that she has begun', async ({
  house,
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada']);
  await update(house.db.manager, AssignmentTable, { id: c.assignmentId }, { takeBack: 'until-due' });
  await laid(c, 0, made.written);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  await expect(ada.getByText('You can take it back until tomorrow')).toBeVisible();
  // When its pages are read her page asks anew; what follows is about a page that has not heard of it.
  await drawn(ada);

  const teacher = await as(c.teacher);
  await teacher.goto(`/piles/${c.assignmentId}`);
  await teacher.getByRole('link', { name: /, Ada$/ }).click();
  const still = teacher.getByRole('heading', { name: /can still take this copy back$/ });
  await expect(still).toBeVisible();
  await teacher.getByRole('button', { name: 'End taking back and mark' }).click();
  await expect(still).toHaveCount(0);
  await teacher.getByLabel(/^Grade/).fill('7');
  await saved(teacher);

  await ada.getByRole('button', { name: 'Take back and go on working' }).click();
  await expect(ada.getByRole('alert')).toContainText('This can’t be taken back.');
  await ada.reload();
  await expect(ada.getByText('It can’t be taken back now.')).toBeVisible();
  await expect(ada.getByText(/mark/i)).toHaveText(
    'Your teacher has it now. You see marks and grade when everyone gets theirs back.',
  );
});

test('who shares a browser finds nothing of the other; what was not sent waits locked until its owner is back', async ({
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.written);
  const page = await as(c.teacher);
  await openDesk(page, c);
  await page.route('**/changes*', (route) => route.abort('internetdisconnected'));
  await page.getByLabel(/^Closing words/).fill('A secret word for later.');
  await page.getByLabel(/^Grade/).fill('6');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^Kept on this device/)).toBeVisible();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByText('Somebody has left work here that was not sent yet.')).toBeVisible();

  await signIn(page, c.students[0]!);
  await expect(page.getByRole('link', { name: c.title })).toBeVisible();
  // All that this browser keeps, as whoever sits before it can read it.
  const kept = await page.evaluate(async () => {
    const out = [JSON.stringify({ ...localStorage, ...sessionStorage })];
    for (const { name } of await indexedDB.databases()) {
      const db = await new Promise<IDBDatabase>((resolve, reject) => {
        const open = indexedDB.open(name!);
        open.onsuccess = () => resolve(open.result);
        open.onerror = () => reject(open.error);
      });
      for (const store of db.objectStoreNames)
        out.push(
          await new Promise<string>((resolve) => {
            const all = db.transaction(store).objectStore(store).getAll();
            all.onsuccess = () => resolve(`${store}: ${JSON.stringify(all.result)}`);
          }),
        );
      db.close();
    }
    return out.join('\n');
  });
  expect(kept).toContain('locked: [{');
  expect(kept).not.toContain('secret word');

  await page.getByRole('button', { name: 'Sign out' }).click();
  await page.unroute('**/changes*');
  await signIn(page, c.teacher);
  await expect(page.getByText('Somebody has left work here')).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
  const other = await as(c.teacher);
  await expect
    .poll(async () => {
      await openDesk(other, c);
      return other.getByLabel(/^Closing words/).inputValue();
    })
    .toBe('A secret word for later.');
  await expect(other.getByLabel(/^Grade/)).toHaveValue('6');
});

test('a class is joined by a code from the board: the teacher lets a student in, who then has what is set there', async ({
  makeClass,
  as,
}) => {
  const [mine, other] = [await makeClass(['Ada']), await makeClass(['Kim'])];
  const teacher = await as(mine.teacher);
  await teacher.goto('/classes');
  await teacher.getByRole('link', { name: '7X' }).first().click();
  await teacher.getByRole('link', { name: /^Register/ }).click();
  await teacher.getByRole('button', { name: 'Make a code' }).click();
  const board = teacher.getByRole('region', { name: 'Join with a code' });
  const code = (await board.getByText(/^[0-9A-Z]{3} [0-9A-Z]{3}$/).textContent())!.toLowerCase();
  await atEveryWidth(teacher, 'register with a code');

  const kim = await as(other.students[0]!);
  await expect(kim.getByText(mine.title)).toHaveCount(0);
  await kim.getByLabel('Code from your teacher').fill('nothing');
  await kim.getByRole('button', { name: 'Ask to join' }).click();
  await expect(kim.getByRole('alert')).toHaveText(/^A code has six letters or digits/);
  await kim.getByLabel('Code from your teacher').fill(code);
  await kim.getByRole('button', { name: 'Ask to join' }).click();
  await expect(kim.getByText('You asked to be let into 7X. Its teacher answers.')).toBeVisible();
  await atEveryWidth(kim, 'my work with a question');

  // She hears of it without asking.
  const asks = teacher.getByRole('region', { name: 'Requests' });
  await expect(asks.getByText(/^Kim .* asks to be let into 7X/)).toBeVisible();
  await asks.getByRole('button', { name: 'Let in' }).click();
  await expect(teacher.getByRole('listitem').filter({ hasText: 'Kim' })).toBeVisible();
  await expect(asks).toHaveCount(0);
  await expect(kim.getByRole('link', { name: mine.title })).toBeVisible();
  await board.getByRole('button', { name: 'End the code' }).click();
  await expect(board.getByRole('button', { name: 'Make a code' })).toBeVisible();
});
