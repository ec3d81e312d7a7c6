import { makeLesson } from './lesson.ts';
import { firefox, Visitor } from './other-browser.ts';
import { expect, test } from './story.ts';

test('in Firefox: work is filled in and handed in, marked with pen and note, handed back, read and acted on', async ({
  house,
  makeClass,
  made,
}) => {
  const c = await makeClass(['Ada']);
  const { title, assignmentId } = await makeLesson(house, c, made.written);
  const browser = await firefox();
  try {
    const ada = await Visitor.in(browser, c.students[0]!);
    await ada.follows(title);
    await ada.drawn();
    await ada.types('Answer to 1', 'Tarn Hut');
    await ada.types('Answer to 2', 'about 3 km');
    await ada.presses('Hand in');
    await (await ada.page.waitForSelector('[role="dialog"] button.act'))!.click();
    await ada.sees('Handed in');

    const teacher = await Visitor.in(browser, c.teacher);
    await teacher.opens(`/piles/${assignmentId}`);
    await teacher.follows(', Ada');
    await teacher.drawn();
    await teacher.named('Pen tray', 'toolbar');
    await teacher.page.keyboard.press('1');
    await teacher.drags(await teacher.at(0.2, 0.4), await teacher.at(0.5, 0.42));
    await teacher.sees('1 mark, 0 notes');
    await teacher.page.keyboard.press('5');
    await teacher.page.mouse.click(...(await teacher.at(0.5, 0.25)));
    await teacher.types('Words of the note', 'Count the squares again.');
    await teacher.page.keyboard.press('Escape');
    await teacher.sees('2 marks, 1 note');
    await teacher.page.keyboard.press('g');
    await teacher.page.keyboard.type('2');
    await teacher.page.keyboard.press('Enter');
    await teacher.sees('Saved');
    // What was drawn is there when the page is opened anew.
    await teacher.page.reload();
    await teacher.drawn();
    await teacher.sees('2 marks, 1 note');
    await teacher.page.keyboard.down('Control');
    await teacher.page.keyboard.press('Enter');
    await teacher.page.keyboard.up('Control');
    await teacher.sees('Hand back 1 copy');
    await teacher.presses('Hand back 1 copy');
    await (await teacher.page.waitForSelector('[role="dialog"] button.act'))!.click();
    await teacher.sees('handed back');

    await ada.opens('/');
    await ada.follows(title);
    await ada.drawn();
    await ada.sees('Count the squares again.');
    await ada.follows('Count the squares again.', 'button');
    await ada.types('Answer', 'Four, I see now.');
    await ada.page.keyboard.down('Control');
    await ada.page.keyboard.press('Enter');
    await ada.page.keyboard.up('Control');
    await ada.sees('not read yet');
    await ada.presses('Sorted');
    await ada.sees('1 of 1 done');
    await ada.sees('Improve and hand in again');
    await teacher.opens('/');
    await teacher.sees('Four, I see now.');
    expect([...ada.errors, ...teacher.errors]).toEqual([]);
  } finally {
    await browser.close();
  }
});
