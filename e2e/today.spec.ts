import { drawn, expect, onPage, openDesk, saved, test } from './story.ts';

test('what was left half marked comes first on Today, and opens at the very page, on another device too', async ({
  makeClass,
  as,
  made,
  laid,
}) => {
  const c = await makeClass(['Ada', 'Ben']);
  await laid(c, 0, made.printed);
  await laid(c, 1, made.written, made.printed);
  const teacher = await as(c.teacher);
  await expect(teacher.getByRole('link', { name: /^Begin with Ada/ })).toBeVisible();
  await openDesk(teacher, c, 1);
  await teacher.keyboard.press('5');
  await teacher.mouse.click(...(await onPage(teacher, 0.5, 0.3)));
  await teacher.getByLabel('Words of the note').fill('Dinner calls.');
  await teacher.keyboard.press('Escape');
  await saved(teacher);
  const told = teacher.waitForResponse((r) => r.url().endsWith('/left-at') && r.ok());
  await teacher.keyboard.press('PageDown');
  await expect(teacher.getByText('page 2 of')).toBeVisible();
  await teacher.keyboard.press('PageDown');
  await expect(teacher.getByText('page 3 of')).toBeVisible();
  await told;

  const elsewhere = await as(c.teacher);
  await elsewhere.getByRole('link', { name: /^Go on with Ben .*, page 3$/ }).click();
  await drawn(elsewhere);
  await expect(elsewhere.getByText('page 3 of')).toBeVisible();
  await expect(elsewhere.getByText('1 mark, 1 note')).toBeVisible();
});
