import { plainScoring, type Scoring } from '@jotmark/core';
import { type House, makeRubric, readRubricOf, saveKey, setScoring } from '@jotmark/server';
import { makeSheets } from '@jotmark/server/made-sheets';
import type { Page } from '@playwright/test';
import { answered, makeLesson } from './lesson.ts';
import { aShortTalk } from './rubric.ts';
import { type Class, drawn, expect, onPage, openDesk, saved, test, testFolder } from './story.ts';

const press = async (page: Page, ...keys: string[]) => {
  for (const key of keys) await page.keyboard.press(key);
};

/** Hangs a rubric of four criteria with four levels of 1 to 4 points on the work of a class. */
async function hang(house: House, c: Class, most: number | null, by: Scoring['by']): Promise<void> {
  const [teacher] = await house.db.query('SELECT * FROM person WHERE login = ?', [c.teacher]);
  const made = await readRubricOf(
    house,
    teacher,
    await makeRubric(house, teacher, 'A short talk', aShortTalk()),
  );
  const scoring = { ...plainScoring(false), by };
  await setScoring(
    house,
    teacher,
    c.assignmentId,
    { scoring, rubricVersionId: made.versionId, most, news: null },
    true,
  );
}

test('a pile scored by its questions: keys, a page that says otherwise, what counts nowhere; the student gets the sum', async ({
  makeClass,
  as,
  made,
  house,
}) => {
  const c = await makeClass(['Ada']);
  const lesson = await makeLesson(house, c, made.printed);
  await saveKey(house, lesson.worksheetId, lesson.questions[0]!.id, {
    of: 'wordings',
    accepted: ['Tarn Hut'],
  });
  await answered(house, c, lesson, 0, ['tarn hut', 'the Lume']);
  const teacher = await as(c.teacher);
  await teacher.goto(`/desk/${lesson.copyOf(0)}`);
  await drawn(teacher);
  const tally = teacher.getByRole('region', { name: 'Points by question' });
  await expect(tally).toContainText('0 of 3 marked');
  // The key offers, Enter takes it; then the next open one, typed; what cannot be earned is refused and stays to be seen.
  await press(teacher, 'u', 'Enter');
  await expect(teacher.getByLabel('Points of question 1', { exact: true })).toHaveValue('1');
  await expect(teacher.getByLabel('Points of question 2', { exact: true })).toBeFocused();
  await teacher.keyboard.type('0,5');
  await press(teacher, 'Enter');
  await teacher.keyboard.type('3');
  await press(teacher, 'Enter');
  await expect(teacher.getByRole('alert')).toContainText('More than the 1 that can be earned.');
  await teacher.keyboard.type('1');
  await press(teacher, 'Enter');
  await expect(tally).toContainText('2½ / 3');
  await expect(teacher.getByLabel('Grade', { exact: true })).toHaveValue('2½');
  // A tick with points beside question 2 says something else than what was typed; one at the foot of the page belongs nowhere.
  await teacher.getByText('writing', { exact: true }).waitFor();
  await teacher.keyboard.press('2');
  await teacher.mouse.click(...(await onPage(teacher, 0.5, 363 / 842)));
  await press(teacher, 'Escape');
  await saved(teacher);
  await teacher.getByText('Computed: 2½').click();
  await expect(teacher.getByText('of 3, rounded')).toBeVisible();
  await press(teacher, 'Control+Enter');
  await expect(teacher.getByText('That was the last one')).toBeVisible();
  await teacher.goto(`/piles/${lesson.assignmentId}`);
  await teacher.getByRole('button', { name: 'Hand back 1 copy' }).click();
  await teacher.getByRole('dialog').getByRole('button', { name: 'Hand back 1 copy' }).click();
  await expect(teacher.getByRole('row', { name: /handed back/ })).toBeVisible();
  const ada = await as(c.students[0]!);
  await ada.goto(`/work/${lesson.copyOf(0)}`);
  await ada.getByText('Grade', { exact: true }).click();
  const sum = ada.getByRole('table', { name: 'How the grade came to be' });
  await expect(sum).toContainText('Question 2½ / 1');
  await expect(sum).toContainText('Questions2½ / 3');
});

test('a pile scored by a rubric with four criteria in four keys; a half, a word, all of them at once; changed later, the grades follow after a preview', async ({
  onDesk,
  house,
}) => {
  const { c, teacher } = await onDesk('Ada', 'Ben');
  await hang(house, c, 1600, 'rubric');
  await teacher.reload();
  await drawn(teacher);
  await expect(teacher.getByRole('heading', { name: 'A short talk' })).toBeVisible();
  await press(teacher, 'u', '3', 'Shift+Digit3', '2', 'x');
  const stands = (name: string) =>
    teacher.getByRole('radiogroup', { name }).getByRole('radio', { checked: true });
  await expect(stands('Speaks to us')).toHaveAccessibleName('3, Can');
  await expect(stands('Knows the weather')).toHaveAccessibleName('between 3 and 4');
  await expect(stands('Keeps to time')).toHaveAccessibleName('not shown');
  // 3 + 3½ + 2 of 12: what was not shown is left out.
  await expect(teacher.getByLabel('Grade', { exact: true })).toHaveValue('11.33');
  await press(teacher, 'Enter');
  await teacher.keyboard.type('No clock in sight.');
  await press(teacher, 'Enter');
  await expect(teacher.getByText('No clock in sight.')).toBeVisible();
  await press(teacher, 'Escape');
  await saved(teacher);
  await press(teacher, 'Control+Enter');
  await expect(teacher).toHaveURL(new RegExp(c.people[1]!.copyId));
  await drawn(teacher);
  await expect(teacher.getByRole('heading', { name: 'A short talk' })).toBeVisible();
  await press(teacher, 'u', 'Alt+Digit2');
  await expect(teacher.getByLabel('Grade', { exact: true })).toHaveValue('8');
  await saved(teacher);
  // Out of 8 instead of 16: every grade is shown before, and is another afterwards.
  await teacher.goto(`/assignments/${c.assignmentId}`);
  await teacher.getByRole('button', { name: 'Rubric, grade, scale …' }).click();
  const dialog = teacher.getByRole('dialog');
  await dialog.getByLabel('Points (empty: ungraded)').fill('8');
  await expect(dialog.getByRole('region', { name: 'What it changes' })).toContainText(
    '2 computed grades change',
  );
  await expect(dialog.getByRole('region', { name: 'What it changes' })).toContainText('8 → 4');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await teacher.goto(`/piles/${c.assignmentId}/scores`);
  const row = teacher.getByRole('row', { name: /Ben/ });
  await expect(row.getByLabel(/^Grade of Ben/)).toHaveValue('4');
});

test('four talks are scored, marked and handed back though no student did anything', async ({
  makeClass,
  as,
  house,
}) => {
  const c = await makeClass(['Ada', 'Ben', 'Cyd', 'Dee']);
  await hang(house, c, 1600, 'rubric');
  const teacher = await as(c.teacher);
  await teacher.goto(`/piles/${c.assignmentId}`);
  await teacher.getByRole('link', { name: /, Ada$/ }).click();
  for (const [i, levels] of ['3434', '2222', '4444', '1234'].entries()) {
    await expect(teacher.getByRole('banner')).toContainText(['Ada', 'Ben', 'Cyd', 'Dee'][i]!);
    await expect(teacher.getByRole('heading', { name: 'A short talk' })).toBeVisible();
    await press(teacher, 'u', ...levels);
    await expect(teacher.getByLabel('Grade', { exact: true })).toHaveValue(['14', '8', '16', '10'][i]!);
    await press(teacher, 'Control+Enter');
  }
  await expect(teacher).toHaveURL(new RegExp(`/piles/${c.assignmentId}`));
  await teacher.getByRole('button', { name: 'Hand back 4 copies' }).click();
  await teacher.getByRole('dialog').getByRole('button', { name: 'Hand back 4 copies' }).click();
  await expect(teacher.getByRole('row', { name: /handed back/ })).toHaveCount(4);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  await expect(ada.getByRole('region', { name: 'Rubric: A short talk' })).toContainText(
    'Speaks freely, most of the time.',
  );
  await expect(ada.getByText('Next (Can well): Speaks to somebody')).toBeVisible();
  await expect(ada.getByText(/Grade\s*14/)).toBeVisible();
});

test('a midway round is released on a copy that is still worked on, without a grade; the final one stands beside it', async ({
  makeClass,
  as,
  house,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben']);
  await hang(house, c, 1600, 'rubric');
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  // The rubric is read beside the copy from the opening on.
  await expect(ada.getByRole('region', { name: 'Rubric: A short talk' })).toBeVisible();
  const teacher = await as(c.teacher);
  await teacher.goto(`/score/${c.people[0]!.copyId}`);
  await teacher.getByRole('button', { name: 'Midway' }).click();
  await press(teacher, 'u', '2', '1', '3');
  await teacher.getByLabel('Midway comment').fill('Look up more often.');
  await saved(teacher);
  await teacher.getByRole('button', { name: 'Release the midway round' }).click();
  await expect(teacher.getByText(/^Released/)).toBeVisible();
  await ada.reload();
  const midway = ada.getByRole('region', { name: 'Midway' });
  await expect(midway).toContainText('Look up more often.');
  await expect(midway).toContainText('Looks up now and then.');
  await expect(midway).not.toContainText(/\d+ \/ \d+/);
  await expect(ada.getByRole('button', { name: 'Hand in', exact: true })).toBeVisible();
  await laid(c, 0, made.written);
  await openDesk(teacher, c);
  await expect(teacher.getByText('midway 2', { exact: true })).toBeVisible();
  await press(teacher, 'u', '3', '3', '3', '3');
  await expect(teacher.getByLabel('Grade', { exact: true })).toHaveValue('12');
  await saved(teacher);
  await press(teacher, 'Control+Enter');
  await expect(teacher).toHaveURL(/piles/);
  await teacher.getByRole('button', { name: 'Hand back 1 copy' }).click();
  await teacher.getByRole('dialog').getByRole('button', { name: 'Hand back 1 copy' }).click();
  await expect(teacher.getByRole('row', { name: /handed back/ })).toBeVisible();
  await ada.reload();
  const both = ada.getByRole('region', { name: 'Rubric: A short talk' });
  await expect(both).toContainText('midway: 2');
  await expect(both).toContainText('Speaks freely, most of the time.');
});

test('three spreadsheets become rubrics: what was understood is shown and corrected; one is changed in its grid and kept', async ({
  makeClass,
  as,
}) => {
  const sheets = await makeSheets(testFolder('sheets'));
  const c = await makeClass([]);
  const teacher = await as(c.teacher);
  const take = async (file: string, said: RegExp, count: string, table?: string) => {
    await teacher.goto('/rubrics');
    await teacher.getByLabel('A spreadsheet or a document with a table').setInputFiles(file);
    const dialog = teacher.getByRole('dialog');
    if (table) await dialog.getByLabel('Which table').selectOption(table);
    await expect(dialog).toContainText(said);
    await dialog.getByRole('button', { name: `Use as a new rubric: ${count}` }).click();
    await expect(teacher.getByLabel('Name of the rubric')).toBeVisible();
  };
  await take(sheets.csv, /criteria down, levels across, points in the cells/, '2 criteria');
  await take(
    sheets.xlsx,
    /criteria across, levels down, points in a line of their own/,
    '2 criteria',
    'Rubric',
  );
  await expect(teacher.getByLabel('Points of level 1')).toHaveValue('½');
  await take(sheets.ods, /points in the heads, with weights, the best level first/, '2 criteria');
  await expect(teacher.getByLabel('Name of the rubric')).toHaveValue('Telling a walk');
  // 3 × 3 + 1½ × 3.
  await expect(teacher.getByText('13½ points at most')).toBeVisible();
  await teacher.getByLabel('Reads the map, Begins').fill('Nothing of the map');
  await teacher.getByRole('button', { name: 'Add a criterion' }).click();
  await teacher.getByLabel('Name of criterion 3').fill('Measures');
  await saved(teacher);
  await teacher.reload();
  await expect(teacher.getByLabel('Reads the map, Begins')).toHaveValue('Nothing of the map');
  await expect(teacher.getByLabel('Name of criterion 3')).toHaveValue('Measures');
  // What cannot be read is named, and nothing is made of it.
  await teacher.goto('/rubrics');
  await teacher.getByLabel('A spreadsheet or a document with a table').setInputFiles({
    name: 'photo.xlsx',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from([0xff, 0xd8, 0xff, 0, 1, 2]),
  });
  await expect(teacher.getByRole('alert')).toContainText(
    'is no spreadsheet and no text with a table. Nothing was read.',
  );
  await expect(teacher.getByRole('list', { name: 'Rubrics' }).getByRole('listitem')).toHaveCount(3);
});

test('one question across the class: the same answer earns the same by one key, a note goes to all of a group, one undo takes it back', async ({
  makeClass,
  as,
  made,
  house,
}) => {
  const c = await makeClass(['Ada', 'Ben', 'Cyd']);
  const lesson = await makeLesson(house, c, made.printed);
  await saveKey(house, lesson.worksheetId, lesson.questions[0]!.id, {
    of: 'wordings',
    accepted: ['Tarn Hut'],
  });
  for (const [i, first] of ['Tarn Hut', 'tarn  hut', 'the light'].entries())
    await answered(house, c, lesson, i, [first]);
  const teacher = await as(c.teacher);
  await teacher.goto(`/desk/${lesson.copyOf(0)}`);
  await drawn(teacher);
  await teacher.getByRole('link', { name: 'Question 1 across the class' }).click();
  const groups = teacher.getByRole('region', { name: 'Answers to question 1' }).getByRole('listitem');
  await expect(groups).toHaveCount(2);
  await expect(groups.first()).toContainText('2 copies');
  await expect(groups.first()).toContainText('as the key says');
  await press(teacher, 'Enter', '0', 'n');
  await teacher.getByLabel('Note for 1 copy').fill('Look at the north side.');
  await press(teacher, 'Control+Enter');
  await expect(teacher.getByText('On 1 copy, each at its answer.')).toBeVisible();
  await expect(teacher.getByRole('listitem').filter({ hasText: '3/3' })).toBeVisible();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByRole('listitem').filter({ hasText: /^1/ }).first()).toContainText('2/3');
  await saved(teacher);
  await teacher.getByRole('link', { name: 'Back to the copy' }).click();
  await drawn(teacher);
  await expect(teacher.getByLabel('Points of question 1', { exact: true })).toHaveValue('1');
  await teacher.goto(`/piles/${lesson.assignmentId}/scores`);
  await expect(teacher.getByLabel(/^Question 1 of Ben/)).toHaveValue('1');
  await expect(teacher.getByLabel(/^Question 1 of Cyd/)).toHaveValue('');
});

test('evening out: the order of marking as a chart and a table, all shifted with a reason, and taken back', async ({
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben', 'Cyd']);
  for (const i of [0, 1, 2]) await laid(c, i, made.printed);
  const teacher = await as(c.teacher);
  await teacher.goto(`/piles/${c.assignmentId}`);
  const grade = (name: string) => teacher.getByLabel(new RegExp(`^Grade of ${name}`));
  for (const [name, value] of [
    ['Ada', '9'],
    ['Ben', '6'],
    ['Cyd', '4,5'],
  ]) {
    await grade(name!).fill(value!);
    await grade(name!).press('Enter');
    await teacher
      .getByRole('row', { name: new RegExp(`, ${name}`) })
      .getByRole('button', { name: 'being marked' })
      .click();
    await expect(teacher.getByRole('row', { name: new RegExp(`, ${name}`) })).toContainText('marked');
  }
  await expect(teacher.getByRole('button', { name: 'Hand back 3 copies' })).toBeVisible();
  await teacher.getByRole('link', { name: 'Even out' }).click();
  await expect(teacher.getByRole('img', { name: /In the order of marking/ })).toHaveAttribute(
    'data-drawn',
    'yes',
  );
  await teacher.getByRole('button', { name: 'As a table' }).click();
  await expect(teacher.getByRole('table', { name: 'In the order of marking' }).getByRole('row')).toHaveCount(
    4,
  );
  await teacher.getByRole('button', { name: 'Shift or stretch the grades …' }).click();
  const dialog = teacher.getByRole('dialog');
  await dialog.getByLabel('Shift by').fill('+1,5');
  await expect(dialog.getByRole('region', { name: 'What it changes' })).toContainText('9 → 10');
  await dialog.getByLabel(/^Why/).fill('I was too strict.');
  await dialog.getByRole('button', { name: 'Change 3 grades' }).click();
  const before = teacher.getByRole('region', { name: 'Evened out before' });
  await expect(before).toContainText('shifted by +1½ · 3 copies · “I was too strict.”');
  await teacher.goto(`/piles/${c.assignmentId}`);
  await expect(grade('Cyd')).toHaveValue('6');
  await teacher.goto(`/piles/${c.assignmentId}/even-out`);
  await before.getByRole('button', { name: 'Undo' }).click();
  await expect(before).toContainText('undone');
  await teacher.goto(`/piles/${c.assignmentId}`);
  await expect(grade('Ada')).toHaveValue('9');
  await expect(grade('Cyd')).toHaveValue('4½');
});
