import { execFileSync } from 'node:child_process';
import { atEveryWidth } from './every-width.ts';
import { drawn, expect, markedAndBack, onPage, openDeskOf, test } from './story.ts';

const clean = atEveryWidth;

test('a log fills by itself, a remark goes into three logs, one answers a passage of it; printed for a talk with what was chosen', async ({
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben', 'Cyd']);
  await laid(c, 0, made.written);
  const teacher = await as(c.teacher);
  await openDeskOf(teacher, c.title, /, Ada$/);
  await teacher.getByLabel('Closing words').fill('You read the map well. Now give the unit.');
  await teacher.getByLabel('Grade').fill('7');
  await markedAndBack(teacher, c);

  await teacher.getByRole('link', { name: 'Jotmark, home' }).click();
  await teacher.getByRole('link', { name: 'Classes', exact: true }).click();
  await teacher.getByRole('link', { name: '7X' }).first().click();
  await teacher.getByRole('link', { name: 'Feedback log' }).click();
  await expect(teacher.getByText('2 students have had no word from me for 14 days.')).toBeVisible();
  await teacher.getByLabel('Choose all').check();
  await teacher.getByLabel('A remark').fill('Put the map cases in order, without being asked.');
  await teacher.getByLabel('Kind of work').fill('class talk');
  await teacher.getByLabel('Strand').fill('helping');
  await teacher.getByRole('button', { name: 'Send to 3 students' }).click();
  await expect(teacher.getByText('Everybody had a word from me in the last 14 days.')).toBeVisible();

  const ben = await as(c.students[1]!);
  await ben.getByRole('link', { name: 'My feedback' }).click();
  const words = ben.getByText('Put the map cases in order, without being asked.');
  await expect(words).toBeVisible();
  // A passage of it is answered.
  await words.evaluate((element) => {
    const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      const at = node.textContent!.indexOf('without being asked');
      if (at < 0) continue;
      document.getSelection()!.setBaseAndExtent(node, at, node, at + 'without being asked'.length);
    }
  });
  await ben.getByRole('button', { name: 'Answer' }).click();
  await expect(ben.getByText('To: “without being asked”')).toBeVisible();
  await ben.getByLabel('Answer to this remark').fill('I like maps.');
  await ben.getByRole('button', { name: 'Send the answer' }).click();
  await expect(ben.getByText('I like maps.')).toBeVisible();

  // The teacher hears of it, and finds it where it stands.
  await teacher.reload();
  await expect(teacher.getByText('1 new answer')).toBeVisible();
  await clean(teacher, 'the list of logs');
  await teacher.getByRole('link', { name: /, Ben$/ }).click();
  await expect(teacher.getByText('I like maps.')).toBeVisible();

  // Ada's, with the work that went back: a line of it goes into her report by one move.
  await teacher.getByRole('link', { name: 'Feedback log' }).click();
  await teacher.getByRole('link', { name: /, Ada$/ }).click();
  await expect(teacher.getByText('7 / 10')).toBeVisible();
  await teacher.getByRole('button', { name: 'Write a report' }).click();
  await clean(teacher, 'a log with a report');
  await teacher.getByRole('button', { name: /^Add to report: You read the map well/ }).click();
  await teacher.getByLabel('Report about Ada').press('End');
  await expect(teacher.getByLabel('Report about Ada')).toHaveValue(
    'You read the map well. Now give the unit.',
  );
  await expect(teacher.getByText('Saved', { exact: true })).toBeVisible();

  await teacher.getByRole('link', { name: 'For the family talk: print or PDF' }).click();
  const sheet = teacher.getByRole('article', { name: /^Sheet about Ada/ });
  await expect(sheet).toContainText('7 / 10');
  await teacher.getByLabel('Grades and levels').uncheck();
  await expect(sheet).not.toContainText('7 / 10');
  await clean(teacher, 'a sheet for the talk');
  const download = teacher.waitForEvent('download');
  await teacher.getByRole('button', { name: 'Save as PDF' }).click();
  const pdf = await (await download).path();
  execFileSync('qpdf', ['--check', pdf]);
  const text = execFileSync('pdftotext', [pdf, '-'], { encoding: 'utf8' }).replace(/\s+/g, ' ');
  expect(text).toContain('You read the map well. Now give the unit.');
  expect(text).toContain('Put the map cases in order, without being asked.');
  expect(text).not.toContain('7 / 10');

  // By an address the family reads the same, as long as it is not revoked.
  await teacher.goBack();
  await teacher.getByRole('button', { name: 'Make an address' }).click();
  const address = await teacher.getByLabel('Address: For the family').inputValue();
  const family = await (await teacher.context().browser()!.newContext()).newPage();
  await family.goto(address);
  await expect(family.getByText('You read the map well. Now give the unit.')).toBeVisible();
  await clean(family, 'the page of the family');
  await teacher.getByRole('button', { name: 'Revoke' }).click();
  await expect(teacher.getByRole('button', { name: 'Make an address' })).toBeVisible();
  await family.reload();
  await expect(family.getByText('You read the map well. Now give the unit.')).toBeHidden();
  await family.context().close();
});

test('what the class was told: which focus, which phrase, who has not acted; each bar leads to its copies', async ({
  house,
  makeClass,
  as,
  laid,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben']);
  for (const n of [0, 1]) await laid(c, n, made.written);
  const teacher = await as(c.teacher);
  for (const name of [/, Ada$/, /, Ben$/]) {
    await openDeskOf(teacher, c.title, name);
    await drawn(teacher);
    await teacher.keyboard.press('5');
    await teacher.mouse.click(...(await onPage(teacher, 0.5, 0.5)));
    await teacher.keyboard.type('Give the unit.');
    await teacher.keyboard.press('Escape');
    await teacher.getByRole('button', { name: /^Marked/ }).click();
    await teacher.goto('/');
  }
  await teacher.goto(`/piles/${c.assignmentId}`);
  await teacher.getByRole('button', { name: 'Hand back 2 copies' }).click();
  await teacher.getByRole('dialog').getByRole('button', { name: 'Hand back 2 copies' }).click();
  await expect(teacher.getByRole('row', { name: /handed back/ })).toHaveCount(2);
  const [{ class_id: classId }] = (await house.db.query('SELECT class_id FROM assignment WHERE id = ?', [
    c.assignmentId,
  ])) as [{ class_id: string }];
  await teacher.goto(`/classes/${classId}/look`);
  const phrases = teacher.getByRole('region', { name: 'Said most often' });
  await expect(phrases.getByText(/“Give the unit.” was said 2 times/).first()).toBeVisible();
  await clean(teacher, 'what the class was told');
  await phrases.getByRole('button', { name: 'As a table' }).click();
  await phrases.getByRole('button', { name: 'Give the unit.' }).click();
  const behind = phrases.getByRole('region', { name: /^Behind it/ });
  await expect(behind.getByRole('link', { name: /^Ada/ })).toBeVisible();
  await behind.getByRole('link', { name: /^Ben/ }).click();
  await expect(teacher.getByRole('group', { name: /^Page 1/ })).toBeVisible();
});
