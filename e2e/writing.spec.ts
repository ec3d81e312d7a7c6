import { makeEssay } from './lesson.ts';
import { confirmHandIn, drawn, expect, markList, openDeskOf, saved, select, test } from './story.ts';

const SENTENCE = 'The water of the tarn is cold in spring, and nobody swims there before June. ';

test('an essay of three pages with a picture, written on a tablet: walked past live, handed in, a passage of it marked, its trail played', async ({
  house,
  makeClass,
  as,
}) => {
  const c = await makeClass(['Ada']);
  const essay = await makeEssay(house, c);
  const ada = await as(c.students[0]!);
  await ada.setViewportSize({ width: 820, height: 1180 });
  await ada.getByRole('link', { name: essay.title }).click();
  const text = ada.getByRole('textbox', { name: /^Text of/ });
  await text.click();
  await ada.getByRole('button', { name: 'Heading', exact: true }).click();
  await ada.keyboard.type('The tarn');
  await ada.keyboard.press('Enter');
  await ada.keyboard.type('It lies below the hut. ');

  const teacher = await as(c.teacher);
  await teacher.goto(`/room/${essay.assignmentId}/${essay.copyOf(0)}`);
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
  await saved(ada);
  await ada.reload();
  await expect(text).toContainText('Degrees');
  await text.click();
  await confirmHandIn(ada);
  await expect(ada.getByText('Handed in', { exact: true })).toBeVisible();

  // At the desk it is pages with words in them.
  await openDeskOf(teacher, essay.title, /, Ada$/);
  await drawn(teacher);
  await teacher.keyboard.press('3');
  await select(teacher, 'below', 'hut');
  await saved(teacher);
  expect(await markList(teacher)).toEqual(['p. 1: highlight “below the hut”']);

  await teacher.goto(`/copies/${essay.copyOf(0)}/trail`);
  await expect(teacher.getByRole('heading', { name: '1 sitting' })).toBeVisible();
  await expect(teacher.getByText(/passage was pasted/)).toBeVisible();
  await teacher.getByRole('slider', { name: 'Moment of the trail' }).fill('3');
  await expect(shown).toContainText('The tarn');
  await expect(shown).not.toContainText('Nobody goes there');
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
