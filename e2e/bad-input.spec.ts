import { readFileSync } from 'node:fs';
import { added, dropFile, expect, handIn, openDesk, test } from './story.ts';

test('each file that cannot be taken gets a sentence that says what happened, what was kept and what to do', async ({
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  const pdf = new Uint8Array(readFileSync(made.written));
  for (const [name, bytes, sentence] of [
    ['nothing.pdf', new Uint8Array(), '“nothing.pdf” is empty. Nothing was handed in.'],
    ['half.pdf', pdf.subarray(0, pdf.length >> 1), '“half.pdf” is damaged'],
  ] as const) {
    await dropFile(ada, { name, bytes });
    await expect(ada.getByRole('alert')).toContainText(sentence);
  }
  // What cannot become pages is taken all the same, says so, and is kept.
  await dropFile(ada, { name: 'model.xyz', bytes: new Uint8Array([1, 2, 3, 0, 250, 251, 0, 0]) });
  await expect(ada.getByText('Jotmark cannot show this kind of file as pages. It is kept')).toBeVisible();
  await ada.getByRole('button', { name: 'Remove model.xyz' }).click();
  await dropFile(ada, { name: '../../my map.pdf', bytes: pdf });
  await expect(ada.getByText('my map.pdf', { exact: true })).toBeVisible();
  await ada.getByRole('button', { name: 'Remove my map.pdf' }).click();
  await expect(ada.getByText('my map.pdf', { exact: true })).toHaveCount(0);
});

test('an upload cut off half way says so, and the file can be added again', async ({
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  await ada.route('**/files', (route) => route.abort('connectionreset'));
  await dropFile(ada, made.written);
  await expect(ada.getByRole('alert')).toContainText('There is no connection to Jotmark');
  await ada.unroute('**/files');
  await dropFile(ada, made.written);
  await added(ada, made.written);
});

test('a student who asks for another’s copy, or for the desk, finds nothing there', async ({
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada', 'Ben']);
  const ada = await as(c.students[0]!);
  await handIn(ada, c.title, made.printed);
  const address = ada.url();
  const ben = await as(c.students[1]!);
  await ben.goto(address);
  await expect(ben.getByRole('alert')).toContainText('There is nothing here that you can see');
  await ben.goto(`/piles/${c.assignmentId}`);
  await expect(ben.getByRole('alert')).toContainText('not for your account');
  await ben.goto('/work/not-an-id');
  await expect(ben.getByRole('alert')).toContainText('There is nothing here');
});

test('wrong passwords are answered with a sentence', async ({ page }) => {
  await page.goto(`${process.env.E2E_ADDRESS}/`);
  await page.getByLabel('Login').fill('nobody');
  await page.getByLabel('Password').fill('nothing');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('Login or password is wrong');
});

test('impossible grades are refused with a sentence and the last good one stays', async ({
  makeClass,
  as,
  made,
  laid,
}) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, made.printed);
  const teacher = await as(c.teacher);
  await openDesk(teacher, c);
  const grade = teacher.getByLabel(/^Grade/);
  await grade.fill('7.25');
  await grade.press('Enter');
  for (const [typed, sentence] of [
    ['-1', 'It cannot be below 0.'],
    ['ten', 'That is not a number.'],
    ['7.255', 'At most two decimals.'],
    ['10.5', 'More than the 10'],
  ]) {
    await grade.fill(typed!);
    await grade.press('Enter');
    await expect(teacher.getByRole('alert')).toContainText(`${sentence}`);
    await expect(teacher.getByRole('alert')).toContainText('7¼ stays.');
  }
  // It stays to be seen after one has left, until it is mended or let go.
  await grade.blur();
  await expect(grade).toHaveValue('10.5');
  await grade.press('Escape');
  await expect(grade).toHaveValue('7¼');
});
