import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import { ownServer } from './lesson.ts';
import { chooseOwn, drawn, expect, markedAndBack, onPage, openDeskOf, test } from './story.ts';

/** Chooses a way to save what is looked at, and gives the file. */
async function saved(page: Page, way: string): Promise<string> {
  await page.getByRole('button', { name: 'Save as …' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: way }).click();
  return (await download).path();
}

const names = (zip: string): string[] =>
  execFileSync('python3', ['-m', 'zipfile', '-l', zip], { encoding: 'utf8' }).split('\n');

test('a pile is saved: marked PDFs in folders, to print with the notes beside the pages, scores as a sheet; a class goes into an empty Jotmark', async ({
  house,
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben']);
  for (const n of [0, 1]) await laid(c, n, made.written);
  const teacher = await as(c.teacher);
  await openDeskOf(teacher, c.title, /, Ada$/);
  await drawn(teacher);
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.5, 0.5)));
  await teacher.keyboard.type('Where is north?');
  await teacher.keyboard.press('Escape');
  await teacher.getByLabel('Grade').fill('6½');
  await markedAndBack(teacher, c);
  await teacher.goto(`/piles/${c.assignmentId}`);

  const zip = await saved(teacher, 'Marked PDFs of all, as zip');
  const listed = names(zip).join('\n');
  expect(listed).toContain(`, Ada/${c.title}, marked.pdf`);
  expect(listed).toContain('index.csv');
  const print = await saved(teacher, 'To print: notes beside the pages');
  execFileSync('qpdf', ['--check', print]);
  expect(execFileSync('pdftotext', ['-layout', print, '-'], { encoding: 'utf8' })).toContain(
    'Where is north?',
  );
  const csv = execFileSync('cat', [await saved(teacher, 'Scores as CSV')], { encoding: 'utf8' });
  expect(csv).toMatch(/, Ada",handed-back,6\.5,10/);

  // The whole class, read by another Jotmark that holds nothing yet.
  const [{ class_id: classId }] = (await house.db.query('SELECT class_id FROM assignment WHERE id = ?', [
    c.assignmentId,
  ])) as [{ class_id: string }];
  await teacher.goto(`/classes/${classId}`);
  const archive = await saved(teacher, 'Archive: the whole record of this class');
  const name = `e2e_${randomUUID().replaceAll('-', '')}`;
  await house.db.query(`CREATE DATABASE ${name}`);
  const DATABASE_URL = process.env.E2E_DATABASE!.replace(/\/[^/]*$/, `/${name}`);
  const program = fileURLToPath(new URL('../server/dist/read-class.js', import.meta.url));
  const read = () =>
    execFileSync('node', [program, archive], { env: { ...process.env, DATABASE_URL }, encoding: 'utf8' });
  const password = new RegExp(`${c.teacher}: (\\S+)`).exec(read())![1]!;
  const empty = await ownServer(0, DATABASE_URL);
  const other = await (await teacher.context().browser()!.newContext()).newPage();
  await other.goto(empty.address);
  await other.getByLabel('Login').fill(c.teacher);
  await other.getByLabel('Password').fill(password);
  await other.getByRole('button', { name: 'Sign in' }).click();
  await chooseOwn(other);
  await other.getByRole('link', { name: 'Classes', exact: true }).click();
  await other.getByRole('link', { name: /7X/ }).click();
  await other.getByRole('link', { name: 'Mark book' }).click();
  await expect(other.getByRole('row', { name: /Ada/ })).toContainText('6½');
  await other.getByRole('link', { name: /, Ada$/ }).click();
  await expect(other.getByText('6½ / 10')).toBeVisible();
  await other.context().close();
  await empty.kill();
  await house.db.query(`DROP DATABASE ${name}`);
});
