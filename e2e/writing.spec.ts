import { makeEssay, makeLesson } from './lesson.ts';
import {
  confirmHandIn,
  drawn,
  expect,
  handBackOne,
  markList,
  onPage,
  openDeskOf,
  saved,
  select,
  test,
} from './story.ts';

const SENTENCE = 'The water of the tarn is cold in spring, and nobody swims there before June. ';

test('an essay of three pages with a picture, written on a tablet: walked past live, handed in, a passage of it marked, its trail played', async ({
  makeClass,
  as,
}) => {
  const c = await makeClass(['Ada']);
  const title = `Essay ${c.title}`;
  // Set without any worksheet: pages to write on.
  const teacher = await as(c.teacher);
  await teacher.getByRole('link', { name: 'Classes', exact: true }).click();
  await teacher.getByRole('link', { name: '7X' }).first().click();
  await teacher.getByRole('link', { name: 'Work', exact: true }).click();
  await teacher.getByRole('button', { name: 'New assignment' }).click();
  await teacher.getByLabel('Title').fill(title);
  await teacher.getByRole('button', { name: 'Pages to write on' }).click();
  await teacher.getByLabel('about').fill('400');
  await teacher.getByRole('button', { name: 'Add pages' }).click();
  await expect(teacher.getByText(/1 page,/)).toBeVisible();
  await expect(teacher.getByText('Draft, saved')).toBeVisible();
  const assignmentId = teacher.url().split('/').at(-1)!;
  await teacher.getByRole('button', { name: 'Hand out …' }).click();
  await teacher
    .getByRole('dialog')
    .getByRole('button', { name: /^Hand out 1 cop/ })
    .click();
  await expect(teacher.getByText('Handed out: 1 copy.')).toBeVisible();

  const ada = await as(c.students[0]!);
  await ada.setViewportSize({ width: 820, height: 1180 });
  await ada.getByRole('link', { name: title }).click();
  const text = ada.getByRole('textbox', { name: /^Text of/ });
  await text.click();
  await ada.getByRole('button', { name: 'Heading', exact: true }).click();
  await ada.keyboard.type('The tarn');
  await ada.keyboard.press('Enter');
  await ada.keyboard.type('It lies below the hut. ');

  const copyId = ada.url().split('/').at(-1)!;
  await teacher.goto(`/room/${assignmentId}/${copyId}`);
  const shown = teacher.getByRole('document', { name: /^Text of/ });
  await expect(shown.getByRole('heading', { name: 'The tarn' })).toBeVisible();
  await expect(shown).toContainText('It lies below the hut.');

  await ada.getByRole('button', { name: 'Bold' }).click();
  await ada.keyboard.type('Nobody');
  await ada.getByRole('button', { name: 'Bold' }).click();
  await ada.keyboard.type(' goes there.');
  await ada.keyboard.press('Enter');
  await expect(shown.getByText('Nobody', { exact: true })).toBeVisible();
  // A paragraph that was written elsewhere, and what it says three pages long.
  await ada.evaluate(
    (words) => {
      const data = new DataTransfer();
      data.setData('text/plain', words);
      document.activeElement!.dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: data, bubbles: true }),
      );
    },
    Array.from({ length: 12 }, () => SENTENCE.repeat(5).trim()).join('\n'),
  );
  await expect(ada.getByText(/of about 400 words, \d pages/)).toBeVisible();
  await ada.getByLabel('Pictures for the text').setInputFiles({
    name: 'The tarn in spring.png',
    mimeType: 'image/png',
    buffer: await picture(ada),
  });
  await expect(text.getByRole('img', { name: 'The tarn in spring' })).toBeVisible();
  await ada.keyboard.type('A picture of it, and a formula: $\\frac{1}{2}$ of the year there is ice.');
  await ada.getByRole('button', { name: 'Table' }).click();
  await text.getByRole('columnheader').first().click();
  await ada.keyboard.type('Month');
  await ada.keyboard.press('Tab');
  await ada.keyboard.type('Degrees');
  await expect(text.getByRole('columnheader').nth(1)).toHaveText('Degrees');
  await expect(ada.getByText(/of about 400 words, 3 pages/)).toBeVisible();
  await expect(ada.getByText('page 3')).toBeVisible();
  await expect(shown.getByRole('img', { name: 'The tarn in spring' })).toBeVisible();
  // Why it stands there is said beside it.
  await text.getByText('Nobody', { exact: true }).dblclick();
  await ada.getByRole('button', { name: 'Note about these words' }).click();
  await ada.getByLabel('Words of your note').fill('I asked the keeper.');
  await ada.getByRole('button', { name: 'Keep the note' }).click();
  await saved(ada);
  await ada.reload();
  await expect(text).toContainText('Degrees');
  await text.click();
  await confirmHandIn(ada);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();

  // At the desk it is pages with words in them.
  await openDeskOf(teacher, title, /, Ada$/);
  await drawn(teacher);
  await teacher.keyboard.press('3');
  await select(teacher, 'below', 'hut');
  await saved(teacher);
  expect(await markList(teacher)).toEqual(['p. 1: highlight on “below the hut.”']);

  // What the student noted is told apart, and answered.
  await teacher.getByRole('button', { name: 'Note on the copy: I asked the keeper.' }).click();
  await teacher.getByLabel('Answer to this note').fill('Good that you did.');
  await teacher.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(teacher.getByRole('listitem').filter({ hasText: 'Good that you did.' }).first()).toBeVisible();

  await teacher.goto(`/copies/${copyId}/trail`);
  await expect(teacher.getByRole('heading', { name: '1 sitting' })).toBeVisible();
  await expect(teacher.getByText(/passage was pasted/)).toBeVisible();
  await teacher.getByRole('slider', { name: 'Moment of the trail' }).fill('1');
  // How much one moment holds is the network's affair; the first never holds the table at the end.
  await expect(shown).not.toContainText('Degrees');
  await teacher.getByRole('button', { name: 'Play' }).click();
  await expect(shown).toContainText('Degrees');
});

async function picture(page: import('@playwright/test').Page): Promise<Buffer> {
  const url = await page.evaluate(() => {
    const canvas = document.createElement('canvas');
    canvas.width = 800;
    canvas.height = 500;
    const c = canvas.getContext('2d')!;
    c.fillStyle = '#9cc4d8';
    c.fillRect(0, 0, 800, 500);
    c.fillStyle = '#3f6b4a';
    c.fillRect(0, 330, 800, 170);
    return canvas.toDataURL('image/png');
  });
  return Buffer.from(url.split(',')[1]!, 'base64');
}

test('three students write in one copy, one of them without a network; who wrote what is told, one hands in for all, one has a grade of their own', async ({
  house,
  makeClass,
  as,
}) => {
  const c = await makeClass(['Ada', 'Ben', 'Cyd', 'Dee']);
  const essay = await makeEssay(house, c, null);
  const teacher = await as(c.teacher);
  await teacher.goto(`/assignments/${essay.assignmentId}`);
  const part = teacher.getByRole('region', { name: 'Working together' });
  await part.getByRole('checkbox', { name: /In groups/ }).check();
  await part.getByRole('checkbox', { name: 'Students choose' }).check();
  await expect(part.getByLabel('until')).toBeVisible();

  const [ada, ben, cyd] = [await as(c.students[0]!), await as(c.students[1]!), await as(c.students[2]!)];
  for (const page of [ben, cyd]) {
    await page.getByRole('link', { name: essay.title }).click();
    await page.getByRole('button', { name: 'Choose with whom' }).click();
    await page.getByRole('button', { name: /^Work with Ada/ }).click();
    await expect(page.getByText(/You work on this with Ada/)).toBeVisible();
  }
  await ada.getByRole('link', { name: essay.title }).click();
  await expect(ada.getByText(/You work on this with Ben .* and Cyd/)).toBeVisible();

  const text = (page: typeof ada) => page.getByRole('textbox', { name: /^Text of/ });
  await text(ada).click();
  await ada.keyboard.type('The tarn is cold.');
  for (const page of [ben, cyd]) await expect(text(page)).toContainText('The tarn is cold.');
  // One is without a network for a while; all three write in the same sentence.
  await cyd.context().setOffline(true);
  await text(cyd).click();
  await cyd.keyboard.press('Control+End');
  await cyd.keyboard.type(' Cyd saw ice on it.');
  await expect(cyd.getByText(/[Kk]ept on this device/)).toBeVisible();
  await text(ben).click();
  await ben.keyboard.press('Control+Home');
  await ben.keyboard.type('Ben says: ');
  await ada.keyboard.type(' Ada swam.');
  await expect(text(ada)).toContainText('Ben says: The tarn is cold. Ada swam.');
  await expect(text(cyd)).not.toContainText('Ben says');
  await cyd.context().setOffline(false);
  for (const page of [ada, ben, cyd])
    for (const words of ['Ben says: The tarn is cold.', 'Ada swam.', 'Cyd saw ice on it.'])
      await expect(text(page)).toContainText(words);

  await confirmHandIn(ben);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();
  await expect(cyd.getByText('Handed in', { exact: true })).toBeVisible();
  await teacher.goto(`/copies/${essay.copyOf(0)}/trail`);
  await teacher.getByRole('slider', { name: 'Moment of the trail' }).fill('1');
  await expect(teacher.getByText(/^.*Ada Example.*written$/)).toBeVisible();

  await openDeskOf(teacher, essay.title, /^Ada, Ben/);
  await teacher.getByLabel('Grade', { exact: true }).fill('2');
  await teacher.getByLabel('Grade', { exact: true }).press('Enter');
  await teacher.getByText('All 3 get this grade').click();
  await teacher.getByLabel(/^Grade of Cyd/).fill('3');
  await teacher.getByLabel(/^Grade of Cyd/).press('Enter');
  await expect(teacher.getByText('1 of 3 with a grade of their own')).toBeVisible();
  await saved(teacher);
  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await teacher.goto(`/piles/${essay.assignmentId}`);
  await handBackOne(teacher);
  await cyd.goto(`/work/${essay.copyOf(0)}`);
  await expect(cyd.getByText('3 / 3')).toBeVisible();
  await ada.goto(`/work/${essay.copyOf(0)}`);
  await expect(ada.getByText('2 / 3')).toBeVisible();
  await expect(ada.getByText('3 / 3')).toHaveCount(0);
});

test('a student says beside the place why something stands there; it goes along and can be changed until then', async ({
  house,
  makeClass,
  as,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const lesson = await makeLesson(house, c, made.written);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: lesson.title }).click();
  await drawn(ada);
  await ada.getByRole('button', { name: /^Note$/ }).click();
  await ada.mouse.click(...(await onPage(ada, 0.5, 0.4)));
  await ada.getByLabel('Words of your note').fill('The hut is left of this.');
  await ada.getByRole('button', { name: 'Close' }).click();
  await ada.mouse.click(...(await onPage(ada, 0.3, 0.6)));
  await ada.keyboard.press('Escape');
  // The second says nothing, so it is none.
  await expect(ada.getByRole('button', { name: /^Your note/ })).toHaveCount(1);
  await saved(ada);
  await ada.reload();
  await ada.getByRole('button', { name: 'Your note: The hut is left of this.' }).click();
  await expect(ada.getByLabel('Words of your note')).toHaveValue('The hut is left of this.');
  await ada.getByLabel('Words of your note').fill('The hut is right of this.');
  await ada.getByRole('button', { name: 'Close' }).click();
  await ada.getByLabel('Answer to 1').fill('Tarn Hut');
  await confirmHandIn(ada);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();
  await expect(
    ada.getByRole('button', { name: 'Note on the copy: The hut is right of this.' }),
  ).toBeVisible();
});
