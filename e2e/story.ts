import { randomBytes, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { copyFile, mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  type AssignmentId,
  type CopyId,
  makeId,
  type Person,
  type Question,
  type QuestionId,
} from '@jotmark/core';
import {
  addClass,
  addFile,
  addPerson,
  type House,
  handIn as handInCopy,
  newId,
  Opener,
  openBatchPool,
  openDatabase,
  readSettings,
  setAssignment,
} from '@jotmark/server';
import { type MadeElsewhere, makeElsewhere } from '@jotmark/server/made-elsewhere';
import {
  type BrowserContext,
  test as base,
  type CDPSession,
  expect,
  type Locator,
  type Page,
} from '@playwright/test';

export const PASSWORD = 'long enough to type';

/** A class of one story: a teacher, students, one assignment out of 10. */
export interface Class {
  readonly teacher: string;
  readonly students: readonly string[];
  readonly title: string;
  readonly assignmentId: AssignmentId;
  readonly people: readonly { readonly person: Person; readonly copyId: CopyId }[];
}

/** Made once for all stories of a worker. */
interface Shared {
  house: House;
  made: MadeElsewhere;
  opener: Opener;
}

interface Fixtures {
  makeClass(students?: readonly string[]): Promise<Class>;
  /** A browser of its own for one person, signed in; an error in its console fails the story. */
  as(login: string, password?: string): Promise<Page>;
  /** A class whose students (Ada, where none is named) have all handed in the written file, and its teacher at the desk of the first copy. */
  onDesk(...students: string[]): Promise<{ c: Class; teacher: Page }>;
  /** A student of the class (the n-th) hands in files, as a browser would; for stories that are about what comes after. */
  laid(c: Class, student: number, ...files: string[]): Promise<void>;
}

/** What the browser itself writes to the console when the server says no: part of those stories, not an error of ours. */
const EXPECTED =
  /Failed to load resource: the server responded with a status of (401|403|404|409|413|415|422)|net::ERR_[A-Z_]+/;

export const test = base.extend<Fixtures, Shared>({
  onDesk: async ({ makeClass, as, made, laid }, use) => {
    await use(async (...students) => {
      const c = await makeClass(students.length ? students : ['Ada']);
      for (const i of c.students.keys()) await laid(c, i, made.written);
      const teacher = await as(c.teacher);
      await openDesk(teacher, c);
      return { c, teacher };
    });
  },
  house: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright reads the fixture's needs from this pattern
    async ({}, use) => {
      const db = await openDatabase(process.env.E2E_DATABASE!, { migrate: false });
      const settings = readSettings({ DATABASE_URL: process.env.E2E_DATABASE });
      const batches = openBatchPool(process.env.E2E_DATABASE!);
      await use({
        db,
        batches,
        settings,
        log: { error() {}, warn() {} } as unknown as House['log'],
        now: Date.now,
      });
      await batches.end();
      await db.destroy();
    },
    { scope: 'worker' },
  ],
  made: [
    // biome-ignore lint/correctness/noEmptyPattern: as above
    async ({}, use) =>
      use(await makeElsewhere(fileURLToPath(new URL('../.test/elsewhere', import.meta.url)))),
    { scope: 'worker' },
  ],
  opener: [
    // biome-ignore lint/correctness/noEmptyPattern: as above
    async ({}, use) => {
      const opener = new Opener();
      await use(opener);
      opener.close();
    },
    { scope: 'worker' },
  ],
  laid: async ({ house, opener }, use) => {
    await use(async (c, student, ...files) => {
      const { person, copyId } = c.people[student]!;
      const folder = await mkdtemp(join(tmpdir(), 'jotmark-story-'));
      for (const [i, file] of files.entries()) {
        const path = join(folder, `${i}-${basename(file)}`);
        await copyFile(file, path);
        await addFile(house, opener, copyId, { path, name: basename(file) });
      }
      await handInCopy(house, person, copyId, { id: newId(house), cover: '', claimedAt: null });
    });
  },
  makeClass: async ({ house }, use) => {
    await use(async (names = ['Ada']) => {
      const tag = randomUUID().slice(0, 6);
      const add = (role: 'teacher' | 'student', given: string) =>
        addPerson(house, {
          role,
          given,
          family: `Example-${tag}`,
          login: `${given.toLowerCase()}.${tag}`,
          password: PASSWORD,
        });
      const teacher = await add('teacher', 'Tove');
      const students = [];
      for (const name of names) students.push(await add('student', name));
      const classId = await addClass(house, {
        name: '7X',
        unit: 'Maps',
        teachers: [teacher.id],
        students: students.map((s) => s.id),
      });
      const title = `Map work ${tag}`;
      const { id, copies } = await setAssignment(house, {
        classId,
        title,
        instructions: '',
        dueAt: Date.now() + 86_400_000,
        most: 1000,
      });
      return {
        teacher: teacher.login,
        students: students.map((s) => s.login),
        title,
        assignmentId: id,
        people: students.map((person) => ({ person, copyId: copies.get(person.id)! })),
      };
    });
  },
  as: async ({ browser }, use) => {
    const errors: string[] = [];
    const contexts: BrowserContext[] = [];
    await use(async (login, password = PASSWORD) => {
      const context = await browser.newContext({ baseURL: process.env.E2E_ADDRESS!, acceptDownloads: true });
      contexts.push(context);
      const page = await context.newPage();
      listen(page, errors);
      context.on('page', (p) => listen(p, errors));
      // The form to sign in by is a story of its own.
      const signedIn = await context.request.post('/api/sign-in', { data: { login, password } });
      expect(signedIn.status()).toBe(200);
      await page.goto('/');
      await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
      return page;
    });
    for (const context of contexts) await context.close();
    expect(errors).toEqual([]);
  },
});

function listen(page: Page, errors: string[]): void {
  page.on('pageerror', (e) => errors.push(`${e.message}\n${e.stack}`));
  page.on('console', (m) => {
    if (m.type() === 'error' && !EXPECTED.test(m.text())) errors.push(m.text());
  });
}

export { expect };

export type Dropped = string | { readonly name: string; readonly bytes: Uint8Array };

const nameOf = (file: Dropped) => (typeof file === 'string' ? basename(file) : file.name);

/** Drops files onto the page as from a folder. */
export const dropFile = (page: Page, ...files: Dropped[]): Promise<void> =>
  dropOn(page, page.getByText('Drag files or photos here'), ...files);

/** The same onto something else. */
export async function dropOn(page: Page, place: Locator, ...files: Dropped[]): Promise<void> {
  const list = files.map((file) => ({
    name: nameOf(file),
    base64: (typeof file === 'string' ? readFileSync(file) : Buffer.from(file.bytes)).toString('base64'),
  }));
  const data = await page.evaluateHandle((all) => {
    const transfer = new DataTransfer();
    for (const { base64, name } of all)
      transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name));
    return transfer;
  }, list);
  await place.dispatchEvent('dragover', { dataTransfer: data });
  await place.dispatchEvent('drop', { dataTransfer: data });
}

/** A file lies on the copy once it can be taken away again. */
export const added = (page: Page, file: Dropped) =>
  expect(page.getByRole('button', { name: `Remove ${nameOf(file)}` })).toBeVisible();

/** The look before handing in, and the last button. */
export async function confirmHandIn(page: Page, cover = ''): Promise<void> {
  await page.getByRole('banner').getByRole('button', { name: 'Hand in', exact: true }).click();
  const dialog = page.getByRole('dialog');
  if (cover) await dialog.getByLabel(/A word to your teacher/).fill(cover);
  await dialog.getByRole('button', { name: /^Hand in/ }).click();
}

/** A student hands in files: the list, the assignment, the drop, the button. */
export async function handIn(page: Page, title: string, ...files: Dropped[]): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: title }).click();
  await dropFile(page, ...files);
  for (const file of files) await added(page, file);
  await confirmHandIn(page);
  await expect(page.getByText('Handed in', { exact: true })).toBeVisible();
}

/** The teacher opens the first copy of a pile and sees its first page. */
export async function openDesk(page: Page, c: Class, student = 0): Promise<void> {
  await page.goto(`/piles/${c.assignmentId}`);
  const given = c.students[student]!.split('.')[0]!;
  await page.getByRole('link', { name: new RegExp(`, ${given}$`, 'i') }).click();
  await deskStands(page);
}

/** The first page is drawn and the pens are there: a key before that takes none. */
async function deskStands(page: Page): Promise<void> {
  await drawn(page);
  await expect(
    page.getByRole('toolbar', { name: 'Pen tray' }).or(page.getByText('This copy was handed back')).first(),
  ).toBeVisible();
}

/** The teacher goes from Today to the pile of this title and opens one copy of it. */
export async function openDeskOf(page: Page, title: string, student: RegExp): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: title, exact: true }).first().click();
  await page.getByRole('link', { name: student }).click();
  await deskStands(page);
}

/** The marked copy as a PDF, as the desk saves it: where the file is. */
export async function saveMarked(page: Page): Promise<string> {
  const fold = page.locator('details', { hasText: 'As a PDF' });
  // It stays as it was left at the copy before.
  if (!(await fold.evaluate((d) => (d as HTMLDetailsElement).open))) await page.getByText('As a PDF').click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'PDF with marks', exact: true }).click();
  return (await download).path();
}

/** The copy on the desk is marked, and goes back from its pile. */
export async function markedAndBack(page: Page, c: Class): Promise<void> {
  await page.getByRole('button', { name: /^Marked/ }).click();
  await page.goto(`/piles/${c.assignmentId}`);
  await handBackOne(page);
}

/** Hands back the one copy that is marked, from the pile. */
export async function handBackOne(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Hand back 1 copy' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Hand back 1 copy' }).click();
  await expect(page.getByRole('row', { name: /handed back/ })).toBeVisible();
}

/** Waits until the first page in view is drawn. */
export async function drawn(page: Page): Promise<void> {
  await expect(page.locator('canvas[data-drawn]').first()).toBeVisible();
}

export const saved = (page: Page) => expect(page.getByText('Saved', { exact: true })).toBeVisible();

/** Presses a key and lets it go at once, however slow the machine is: on one that is at work the browser's answer to the press may take so long that the key would count as held. */
export async function touchKey(page: Page, key: string): Promise<void> {
  const held = key.split('+');
  const down = held.map((k) => page.keyboard.down(k));
  const up = held.reverse().map((k) => page.keyboard.up(k));
  await Promise.all([...down, ...up]);
}

/** Where a point of a page, as shares of its shown width and height, is on the screen. */
export async function onPage(page: Page, fx: number, fy: number, index = 0): Promise<[x: number, y: number]> {
  const box = (await page.getByRole('group', { name: new RegExp(`^Page ${index + 1} of`) }).boundingBox())!;
  return [box.x + box.width * fx, box.y + box.height * fy];
}

/** A pen tablet: trusted pointer events with pressure, by the browser's own protocol. */
export class Pen {
  readonly #cdp: CDPSession;

  private constructor(cdp: CDPSession) {
    this.#cdp = cdp;
  }

  static async on(page: Page): Promise<Pen> {
    return new Pen(await page.context().newCDPSession(page));
  }

  async stroke(points: readonly (readonly [x: number, y: number, force: number])[]): Promise<void> {
    const [first] = points;
    await this.down(...first!);
    // Not awaited one by one, so that some of them coalesce as from a real pen.
    await Promise.all(points.slice(1).map((p) => this.move(...p)));
    await this.#send('mouseReleased', points.at(-1)![0], points.at(-1)![1], 0);
  }

  down(x: number, y: number, force: number): Promise<unknown> {
    return this.#send('mousePressed', x, y, force);
  }

  move(x: number, y: number, force: number): Promise<unknown> {
    return this.#send('mouseMoved', x, y, force);
  }

  #send(
    type: 'mousePressed' | 'mouseMoved' | 'mouseReleased',
    x: number,
    y: number,
    force: number,
  ): Promise<unknown> {
    return this.#cdp.send('Input.dispatchMouseEvent', {
      type,
      x,
      y,
      force,
      pointerType: 'pen',
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
    });
  }
}

/** A wave from one point of a page to another, pressed harder towards its end. */
export async function wave(
  page: Page,
  from: readonly [number, number],
  to: readonly [number, number],
  n = 30,
): Promise<[number, number, number][]> {
  const [x0, y0] = await onPage(page, ...from);
  const [x1, y1] = await onPage(page, ...to);
  return Array.from({ length: n }, (_, i) => [
    x0 + ((x1 - x0) * i) / (n - 1),
    y0 + ((y1 - y0) * i) / (n - 1) + 6 * Math.sin(i / 3),
    0.2 + (0.7 * i) / n,
  ]);
}

/** Drags the mouse from one point of a page to another. */
export async function drag(
  page: Page,
  from: readonly [number, number],
  to: readonly [number, number],
): Promise<void> {
  const [x0, y0] = await onPage(page, ...from);
  const [x1, y1] = await onPage(page, ...to);
  await page.mouse.move(x0, y0);
  await page.mouse.down();
  await page.mouse.move((x0 + x1) / 2, (y0 + y1) / 2, { steps: 4 });
  await page.mouse.move(x1, y1, { steps: 4 });
  await page.mouse.up();
}

/** Drags over words of the first page, from the first of them to the last; of several that are the same, the `nth`. */
export async function select(page: Page, first: string, last = first, nth = 0): Promise<void> {
  const [from, to] = await page.evaluate(
    async ({ first, last, nth }) => {
      const id = document.querySelector<HTMLElement>('[data-document]')!.dataset.document;
      const [text] = await (await fetch(`/api/documents/${id}/text`)).json();
      const { frames } = await (await fetch(`/api/documents/${id}`)).json();
      const [x0, y0, x1, y1] = frames[0].crop;
      const share = (word: string, which: number, end: 'from' | 'to') => {
        const { box } = text.words.filter((w: { text: string }) => w.text.replace(/[.,]$/, '') === word)[
          which
        ];
        const x = end === 'from' ? box[0] + 2 : box[2] - 2;
        return [x / (x1 - x0), (box[1] + box[3]) / 2 / (y1 - y0)] as const;
      };
      return [share(first, nth, 'from'), share(last, nth, 'to')] as const;
    },
    { first, last, nth },
  );
  const box = (await page.getByRole('group', { name: /^Page 1 of/ }).boundingBox())!;
  const at = ([x, y]: readonly [number, number]) => [box.x + box.width * x, box.y + box.height * y] as const;
  await page.mouse.move(...at(from));
  await page.mouse.down();
  await page.mouse.move(...at(to), { steps: 5 });
  await page.mouse.up();
}

/** What the teacher's marks are, from the list of all marks on the slip, as far as it was asked for. */
export async function markList(page: Page): Promise<string[]> {
  const details = page.locator('details', { has: page.getByText(/^\d+ marks?, \d+ notes?$/) });
  if (!(await details.evaluate((d) => (d as HTMLDetailsElement).open)))
    await details.locator('summary').click();
  await expect(
    details.getByRole('list').or(details.getByText(/^Nothing on the pages yet|^None of the/)),
  ).toBeVisible();
  await expect(details.locator('[aria-busy="true"]')).toHaveCount(0);
  return details.getByRole('button').allInnerTexts();
}

/** What somebody does first who signs in with a password from a sheet. */
export async function chooseOwn(page: Page, next = 'a hill by the sea'): Promise<void> {
  await expect(page.getByRole('heading', { name: 'Choose your own password' })).toBeVisible();
  await page.getByLabel(/^Your new password/).fill(next);
  await page.getByLabel('The same once more').fill(next);
  await page.getByRole('button', { name: 'Save and go on' }).click();
}

/** A question that takes a typed line, `row` counted from the middle of the first page down. */
export const line = (row: number): Question => ({
  id: makeId(Date.now(), randomBytes(10)) as QuestionId,
  page: 0,
  box: [60, 300 + 50 * row, 360, 326 + 50 * row],
  part: false,
  label: null,
  points: 100,
  answer: { kind: 'line' },
});

export const testFolder = (name: string) => join(fileURLToPath(new URL('../.test', import.meta.url)), name);
