import { appendFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { startClass } from '@jotmark/school';
import { readSettings, serve } from '@jotmark/server';
import { chromium, type Page } from '@playwright/test';
import { wordsOf } from './words-of.ts';

/** Takes one picture of each main view from the demo school in the database at DATABASE_URL; and lists the words of each, to be read from top to bottom. */
const [folder = '.', wordsFile] = process.argv.slice(2);
const running = await serve(
  readSettings({
    DATABASE_URL: process.env.DATABASE_URL,
    PORT: '0',
    WEB_DIR: fileURLToPath(new URL('../web/dist', import.meta.url)),
    SCHOOL_NAME: 'Hollin Bay School',
    STAND_IN_DIR: fileURLToPath(new URL('../school', import.meta.url)),
    JOTMARK_DEMO: '1',
    LOG_LEVEL: 'error',
  }),
);
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu'],
});
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
const page = await context.newPage();
await page.goto(running.address);

const shoot = async (name: string, of: Page = page) => {
  await of.waitForTimeout(400);
  await of.mouse.move(2, 400);
  await of.screenshot({ path: join(folder, `${name}.png`) });
  if (wordsFile) await appendFile(wordsFile, `## ${name}\n${(await wordsOf(of)).join('\n')}\n\n`);
};
const drawn = () => page.locator('canvas[data-drawn]').first().waitFor();
const as = (name: RegExp) => page.getByRole('button', { name }).click();

/** Marks of many kinds on the first page in sight, made as a teacher makes them. */
async function everyKind(): Promise<void> {
  const at = async (fx: number, fy: number): Promise<[number, number]> => {
    const box = (await page.getByRole('group', { name: /^Page 1/ }).boundingBox())!;
    return [box.x + box.width * fx, box.y + box.height * fy];
  };
  const drag = async (key: string, from: [number, number], to: [number, number]) => {
    await page.keyboard.press(key);
    await page.mouse.move(...(await at(...from)));
    await page.mouse.down();
    await page.mouse.move(...(await at(...to)), { steps: 8 });
    await page.mouse.up();
  };
  await page.keyboard.press('7');
  await page.mouse.move(...(await at(0.45, 0.672)));
  await drag('7', [0.2, 0.668], [0.24, 0.668]);
  await page.keyboard.type('far away');
  await page.keyboard.press('Escape');
  await page.keyboard.press('0');
  await page.mouse.click(...(await at(0.63, 0.545)));
  await page.keyboard.type('Squares of 1 km: see the scale!');
  await page.keyboard.press('Escape');
  await page.keyboard.press('q');
  await drag('6', [0.43, 0.36], [0.57, 0.43]);
  await drag('7', [0.72, 0.33], [0.58, 0.39]);
  for (const [key, fy] of [
    ['2', 0.62],
    ['3', 0.7],
  ] as const) {
    await page.keyboard.press(key);
    await page.mouse.click(...(await at(0.93, fy)));
  }
  await page.keyboard.press('h');
}

await page.getByText('Look around as').waitFor();
await as(/Maren/);
await page.getByText('copies to mark').waitFor();
await shoot('today');
await page.getByRole('link', { name: 'Finding your way on Hollin Island', exact: true }).click();
await page.getByRole('table').waitFor();
await shoot('pile');

// A copy with much to say about it.
await page.getByRole('link', { name: 'Ibarra, Maite' }).click();
await drawn();
await everyKind();
await shoot('desk');

// Before it goes back: what stands out, when and how.
await page.goto(running.address);
await page.getByRole('link', { name: /^Hand back 9 copies of Finding your way/ }).click();
await page.getByRole('list', { name: 'Check before' }).waitFor();
await page.getByLabel('A sentence to tell them').fill('Read my notes first, then look at the grade.');
await page.mouse.wheel(0, 400);
await shoot('hand-back');
await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click();

// A copy that came in again.
await page.goto(running.address);
await page.getByRole('link', { name: 'Signs and squares', exact: true }).first().click();
await page
  .getByRole('row', { name: /in again/ })
  .first()
  .getByRole('link')
  .click();
await drawn();
const became = page.getByRole('region', { name: 'What became of it' });
await became.getByRole('button').first().waitFor();
await page.getByLabel('Show on the pages').check();
await became.locator('[data-note]').first().click();
await shoot('in-again');

// Scores: a rubric in the slip, by keys; one question of everybody; evening out.
await page.goto(running.address);
await page.getByRole('link', { name: 'My walk along the shore', exact: true }).first().click();
await page.getByRole('link', { name: 'Abadi-Whitlock, Noor' }).click();
await drawn();
await page.getByRole('heading', { name: 'Telling a walk' }).waitFor();
for (const key of ['u', '3', 'Shift+Digit3', '2', 'Enter']) await page.keyboard.press(key);
await page.keyboard.type('Sentences hold, your coat made me smile.');
await page.keyboard.press('Enter');
await shoot('slip');
await page.goto(running.address);
await page.getByRole('link', { name: 'Distances on the island', exact: true }).first().click();
await page.getByRole('link', { name: 'One question across the class' }).click();
await page.getByRole('link', { name: /^2/ }).click();
await page.getByText('The key of question 2').waitFor();
for (const key of ['ArrowDown', 'ArrowDown', 'ArrowRight']) await page.keyboard.press(key);
await page.locator('canvas[data-drawn]').first().waitFor();
await shoot('across');
await page.getByRole('link', { name: 'Distances on the island', exact: true }).click();
await page.getByRole('link', { name: 'Even out' }).click();
await page.locator('[data-drawn]').first().waitFor();
for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowRight');
await shoot('even-out');

// A term: where everybody stands, and what one was told.
await page.goto(`${running.address}/classes`);
await page.getByRole('link', { name: /^7K/ }).click();
await page.getByRole('link', { name: 'Mark book' }).click();
await page.getByRole('table').waitFor();
const cell = page.getByLabel(/^Grade of Saga Lindqvist, Finding/);
await cell.focus();
await cell.fill('7½');
await shoot('mark-book');
await page.getByRole('link', { name: 'Kamau, Wanjiru' }).click();
await page.getByRole('heading', { name: 'Comes again' }).waitFor();
await shoot('feedback-log');

// Setting work.
await page.goto(`${running.address}/classes`);
await page.getByRole('link', { name: /^7K/ }).click();
await page.getByRole('heading', { name: 'Handed out', exact: true }).waitFor();
await page.getByRole('link', { name: 'A walk to the lighthouse' }).click();
await page.getByRole('button', { name: 'Make an address' }).click();
await page.getByLabel('Address for families').waitFor();
await page.evaluate(() => scrollTo(0, 0));
// The class at work on it.
const atWork = await startClass(running.address);
const setUp = page.url();
await page.goto(setUp.replace('/assignments/', '/room/'));
await page.getByText('14 here').waitFor({ timeout: 60_000 });
await page.waitForTimeout(8000);
await shoot('room');
await page
  .getByRole('listitem', { name: /^Zofia/ })
  .getByRole('link')
  .click();
await drawn();
for (const student of atWork) student.stop();
await page.getByRole('link', { name: 'Working trail' }).click();
await drawn();
await page.getByLabel('Moment of the trail').press('Home');
for (let i = 0; i < 9; i++) await page.keyboard.press('ArrowRight');
await shoot('trail');
await page.goto(setUp);
await page.getByRole('link', { name: 'Questions' }).click();
await drawn();
await page.getByRole('button', { name: 'Choose question 2' }).click();
await shoot('worksheet');
await page.goto(`${running.address}/bank`);
await page.getByRole('button', { name: 'Reading maps' }).click();
await page.getByRole('button', { name: /^Change “Along first/ }).click();
await page.getByLabel('Words', { exact: true }).waitFor();
await shoot('bank');
await page.getByRole('button', { name: 'Sign out' }).click();

await as(/Noor/);
await page.getByRole('heading', { name: 'To do' }).waitFor();
await shoot('my-work');
await page.getByRole('link', { name: /A walk to the lighthouse/ }).click();
await drawn();
await page.getByLabel('Answer to 1').fill('Tarn Hut 354 765, Skerry Light 366 750');
await page.getByRole('banner').getByRole('button', { name: 'Hand in' }).click();
await page.getByRole('heading', { name: 'Hand in?' }).waitFor();
await page.keyboard.press('Escape');
// Something long, on lined pages.
await page.getByRole('link', { name: 'My work' }).click();
await page.getByRole('link', { name: /A place I know well/ }).click();
const long = page.getByRole('textbox', { name: /^Text of/ });
await long.click({ position: { x: 200, y: 20 } });
await page.getByRole('button', { name: 'Heading', exact: true }).click();
await page.keyboard.type('The net loft');
await page.keyboard.press('Enter');
for (const words of [
  'Above the old boat house there is a room with no stairs. You climb up the winch wheel, one foot at a time, and then you lie on the nets until your eyes can see.',
  'It smells of tar and of apples, because Mrs Brandt keeps hers there from October on. I have never told anybody that I eat one each time. This is the place where I learned to read: my uncle mended nets and I read him the labels on the paint.',
]) {
  await page.keyboard.type(words);
  await page.keyboard.press('Enter');
}
await page.getByRole('button', { name: 'Table' }).click();
await long.getByRole('columnheader').first().click();
for (const words of [
  'What',
  'Where from',
  'How many',
  'Apples',
  'Mrs Brandt',
  '40',
  'Nets',
  'my uncle',
  '3',
]) {
  await page.keyboard.type(words);
  await page.keyboard.press('Tab');
}
await page.getByText(/of about 300 words/).waitFor();
await page.getByText('Saved', { exact: true }).waitFor();
await shoot('writing');
await page.getByRole('link', { name: 'My work' }).click();
await page.getByRole('link', { name: /Signs and squares/ }).click();
await drawn();
const playing = page.getByRole('button', { name: 'Play Voice note, method' });
await playing.scrollIntoViewIfNeeded();
await playing.click();
// Half of it is written.
await page.waitForTimeout(9500);
await shoot('marked-copy');
await page.reload();
await page.setViewportSize({ width: 390, height: 844 });
await page.getByRole('button', { name: 'Note 1 ›' }).click();
await drawn();
await shoot('marked-copy-phone');
await page.setViewportSize({ width: 1280, height: 800 });
await page.getByRole('button', { name: 'Sign out' }).click();

// Who looks after accounts.
await as(/Bram/);
await page.getByRole('table').waitFor();
await shoot('people');
await browser.close();
await running.stop();
