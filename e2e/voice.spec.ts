import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Desk, NoteMark, Recording } from '@jotmark/core';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { objectionsTo } from './axe.ts';
import {
  type Class,
  drawn,
  expect,
  handBackOne,
  markList,
  onPage,
  openDesk,
  saved,
  test,
  testFolder,
  touchKey,
} from './story.ts';

/** What the stand-in says next. */
const willSay = (page: Page, name: string) =>
  page.evaluate(
    async (sentence) => (await import(`${location.origin}/stand-in/devices.js`)).say(sentence),
    name,
  );

const recorderOf = (page: Page) => page.getByRole('region', { name: 'Recorder' });
const recording = (page: Page, seconds: number) =>
  expect(recorderOf(page).getByText(new RegExp(`Recording 0:(0[${seconds}-9]|[1-5][0-9])`))).toBeVisible();

/** The desk as the server has it. */
async function deskOf(page: Page, c: Class, student = 0): Promise<Desk> {
  const reply = await page.context().request.get(`/api/desk/${c.people[student]!.copyId}`);
  return reply.json();
}
const voicesOf = async (page: Page, c: Class): Promise<Recording[]> =>
  (await deskOf(page, c)).marking.marks.flatMap(({ mark }) => (mark?.kind === 'note' && mark.voice) || []);

/** A recording's file as another decoder reads it: its length in seconds and its loudness in LUFS. */
async function heardElsewhere(page: Page, { file }: Recording): Promise<{ seconds: number; lufs: number }> {
  const reply = await page.context().request.get(`/api/voices/${file}`);
  expect(reply.status()).toBe(200);
  const path = join(testFolder('e2e'), `${file.slice(0, 12)}.ogg`);
  writeFileSync(path, await reply.body());
  const seconds = execFileSync('ffprobe', [
    '-v',
    'error',
    '-show_entries',
    'format=duration',
    '-of',
    'csv=p=0',
    path,
  ]);
  const said = execFileSync('sh', [
    '-c',
    `ffmpeg -hide_banner -nostats -i ${path} -af ebur128 -f null - 2>&1`,
  ]).toString();
  const lufs = /Integrated loudness:\s+I:\s+(-?[\d.]+) LUFS/.exec(said)![1];
  return { seconds: Number(seconds.toString()), lufs: Number(lufs) };
}

/** A word of the first page under the pointer. */
async function pointAtWord(page: Page): Promise<void> {
  await page.mouse.move(...(await onPage(page, 0.2, 0.125)));
}

test('a voice note in two moves: point at words and hold the key; its length and loudness are right, it is done over and undone', async ({
  onDesk,
}) => {
  const { c, teacher } = await onDesk();
  await willSay(teacher, 'evidence');
  await pointAtWord(teacher);
  await teacher.keyboard.down('v');
  await recording(teacher, 4);
  await teacher.keyboard.up('v');
  const play = teacher.getByRole('button', { name: /^Play Voice note/ });
  await expect(play).toBeVisible();
  await saved(teacher);
  const [first] = await voicesOf(teacher, c);
  const [note] = (await deskOf(teacher, c)).marking.marks.map((m) => m.mark as NoteMark);
  expect(note!.place.on).toBe('passage');
  const { seconds, lufs } = await heardElsewhere(teacher, first!);
  // Silence before the first word was taken off, nothing else.
  expect(seconds).toBeGreaterThan(3);
  expect(Math.abs(seconds * 1000 - first!.ms)).toBeLessThan(150);
  expect(Math.abs(lufs + 16)).toBeLessThan(1.5);
  await play.click();
  await expect(teacher.getByRole('button', { name: /^Pause Voice note/ })).toBeVisible();
  await expect
    .poll(() =>
      teacher
        .locator('audio')
        .first()
        .evaluate((a: HTMLAudioElement) => a.currentTime),
    )
    .toBeGreaterThan(0.4);
  await teacher.getByRole('button', { name: 'Speed, 1 times' }).click();
  await expect(teacher.getByRole('button', { name: 'Speed, 1.25 times' })).toBeVisible();

  // Done over, by a press and a press.
  await teacher.getByRole('button', { name: /^Record again/ }).click();
  await recording(teacher, 2);
  await touchKey(teacher, 'v');
  await expect.poll(async () => (await voicesOf(teacher, c))[0]?.file).not.toBe(first!.file);
  await teacher.keyboard.press('Control+z');
  await saved(teacher);
  expect((await voicesOf(teacher, c))[0]?.file).toBe(first!.file);
});

test('what is said is written down, corrected, searched and read by who cannot hear it; words are dictated into a field', async ({
  onDesk,
  as,
}) => {
  const { c, teacher } = await onDesk();
  await willSay(teacher, 'evidence');
  await pointAtWord(teacher);
  await touchKey(teacher, 'v');
  await expect(recorderOf(teacher).getByText('Next time say which')).toBeVisible();
  await touchKey(teacher, 'v');
  await expect(teacher.getByRole('button', { name: /^Play Voice note/ })).toBeVisible();
  await teacher.getByRole('button', { name: 'Correct its text' }).click();
  const text = teacher.getByLabel('Text of the recording');
  await expect(text).toHaveValue(/^I like how you explain this\.\nNext time say which/);
  await text.fill('I like how you explain this.\nSay which contour line tells you so.');
  await teacher.keyboard.press('Control+Enter');
  await teacher.getByRole('button', { name: 'Text', exact: true }).click();
  await expect(teacher.getByRole('list', { name: /^Words of/ }).getByRole('listitem')).toHaveText([
    'I like how you explain this.',
    'Say which contour line tells you so.',
  ]);
  expect((await markList(teacher)).join()).toContain('Say which contour line tells you so.');
  await teacher.keyboard.press('Escape');

  const closing = teacher.getByLabel(/^Closing words/);
  await closing.fill('Ada:');
  await willSay(teacher, 'closing');
  await teacher.getByRole('button', { name: 'Dictate' }).click();
  await expect(closing).toHaveValue(/^Ada: You read the hill well\./);
  await teacher.getByRole('button', { name: 'Done', exact: true }).click();

  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await teacher.goto(`/piles/${c.assignmentId}`);
  await handBackOne(teacher);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  await drawn(ada);
  await ada.getByRole('button', { name: 'Text', exact: true }).click();
  await expect(
    ada.getByRole('button', { name: /^Say which contour line tells you so\. 0:0\d$/ }),
  ).toBeVisible();
  expect(await objectionsTo(ada)).toEqual([]);
});

test('a page is talked through: for the student the pen writes each stroke at its moment, and the teacher sees that it was heard', async ({
  onDesk,
  as,
}) => {
  const { c, teacher } = await onDesk();
  await willSay(teacher, 'talk');
  await teacher.mouse.move(...(await onPage(teacher, 0.5, 0.9)));
  await touchKey(teacher, 'v');
  await recording(teacher, 2);
  await teacher.keyboard.press('1');
  const [x, y] = await onPage(teacher, 0.3, 0.5);
  await teacher.mouse.move(x, y);
  await teacher.mouse.down();
  await teacher.mouse.move(x + 150, y, { steps: 12 });
  await teacher.mouse.up();
  await recording(teacher, 4);
  await touchKey(teacher, 'v');
  await expect(teacher.getByRole('button', { name: /^Play Voice note/ })).toBeVisible();
  await saved(teacher);
  const [said] = await voicesOf(teacher, c);
  const { from, to } = said!.talk!.made[0]!;
  expect(from).toBeGreaterThan(1500);
  expect(to).toBeLessThanOrEqual(said!.ms);

  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await teacher.goto(`/piles/${c.assignmentId}`);
  await handBackOne(teacher);
  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  await drawn(ada);
  const sheet = ada.getByRole('group', { name: /^Page 1 of/ });
  /** Whether the stroke is on the page as it is seen. */
  const written = async () => {
    const box = (await sheet.boundingBox())!;
    const clip = {
      x: box.x + box.width * 0.28,
      y: box.y + box.height * 0.49,
      width: 170,
      height: box.height * 0.02,
    };
    const { data, info } = await sharp(await ada.screenshot({ clip }))
      .raw()
      .toBuffer({ resolveWithObject: true });
    let red = 0;
    for (let i = 0; i < data.length; i += info.channels)
      if (data[i]! > 140 && data[i + 1]! < 90 && data[i + 2]! < 110) red++;
    return red > 30;
  };
  await sheet.scrollIntoViewIfNeeded();
  await expect.poll(written).toBe(true);
  const where = ada.getByRole('slider', { name: /^Where Voice note/ });
  const play = ada.getByRole('button', { name: /^Play Voice note/ });
  await play.click();
  await expect(ada.getByRole('button', { name: /^Pause Voice note/ })).toBeVisible();
  await expect.poll(written).toBe(false);
  // By its own time it is written again.
  await expect.poll(written).toBe(true);
  // A slider goes in steps of a tenth of a second.
  expect(Number(await where.inputValue())).toBeGreaterThan(from - 100);
  // Seeking equals playing.
  await where.fill(String(Math.floor((from * 0.6) / 100) * 100));
  await expect.poll(written).toBe(false);
  await where.fill(String(Math.ceil(to / 100) * 100 + 100));
  await expect.poll(written).toBe(true);

  await openDesk(teacher, c);
  await expect(teacher.getByText(/^Heard/)).toBeVisible();
});

test('a film is marked at three moments, by keys, and comes back with them', async ({
  makeClass,
  as,
  laid,
}) => {
  const c = await makeClass(['Ada']);
  await laid(c, 0, new URL('../school/assets/walk.webm', import.meta.url).pathname);
  const teacher = await as(c.teacher);
  await teacher.goto(`/piles/${c.assignmentId}`);
  await teacher.getByRole('link', { name: /, Ada$/ }).click();
  const film = teacher.getByRole('region', { name: /walk\.webm$/ });
  await expect(film.getByText('0:00 / 0:17')).toBeVisible();
  await film.focus();
  await teacher.keyboard.press('ArrowRight');
  await expect(film.getByText('0:05 / 0:17')).toBeVisible();
  await teacher.keyboard.press('2');
  await teacher.keyboard.press('Shift+ArrowRight');
  await expect(film.getByText('0:06 / 0:17')).toBeVisible();
  await teacher.keyboard.press('5');
  await teacher.keyboard.type('Count the steps aloud.');
  await teacher.keyboard.press('Escape');
  await film.focus();
  await teacher.keyboard.press('ArrowRight');
  await expect(film.getByText('0:11 / 0:17')).toBeVisible();
  await willSay(teacher, 'evidence');
  await touchKey(teacher, 'v');
  await recording(teacher, 2);
  await touchKey(teacher, 'v');
  await expect(film.getByRole('button', { name: 'Play Voice note at 0:11' })).toBeVisible();
  const list = film.getByRole('list', { name: 'Marks on this film' });
  await expect(list.getByRole('button', { name: /^Go to/ })).toHaveText(['0:05', '0:06', '0:11']);
  // The slip is there though there is no page.
  await teacher.getByLabel(/^Grade/).fill('8');
  await saved(teacher);
  await teacher.getByRole('button', { name: /^Marked/ }).click();
  await teacher.goto(`/piles/${c.assignmentId}`);
  await handBackOne(teacher);

  const ada = await as(c.students[0]!);
  await ada.getByRole('link', { name: c.title }).click();
  const back = ada.getByRole('region', { name: /walk\.webm$/ });
  await expect(back.getByText('Count the steps aloud.')).toBeVisible();
  await ada.getByRole('button', { name: 'Count the steps aloud.' }).first().click();
  await expect(back.getByText('0:06 / 0:17')).toBeVisible();
  await back.getByRole('button', { name: 'Go to 0:11' }).click();
  await expect
    .poll(() => back.locator('video').evaluate((v: HTMLVideoElement) => Math.round(v.currentTime)))
    .toBe(11);
});

test('without a network it is recorded and heard, and goes up when the network is back, though it breaks ten times', async ({
  onDesk,
}) => {
  const { c, teacher } = await onDesk();
  await teacher.route(/\/(changes|parts)(\?|$)/, (route) => route.abort('internetdisconnected'));
  await willSay(teacher, 'scale');
  await pointAtWord(teacher);
  await touchKey(teacher, 'v');
  await recording(teacher, 3);
  await touchKey(teacher, 'v');
  await expect(teacher.getByText('Kept on this device: 1 change')).toBeVisible();
  await teacher.reload();
  await drawn(teacher);
  // It is heard from this device.
  await teacher.getByRole('button', { name: /^Play Voice note/ }).click();
  await expect
    .poll(() =>
      teacher
        .locator('audio')
        .first()
        .evaluate((a: HTMLAudioElement) => a.currentTime),
    )
    .toBeGreaterThan(0.3);
  await teacher.unroute(/\/(changes|parts)(\?|$)/);
  let cut = 0;
  await teacher.route(/\/parts(\?|$)/, (route) =>
    cut++ < 10 ? route.abort('connectionreset') : route.continue(),
  );
  for (let i = 0; i < 11; i++) {
    await teacher.evaluate(() => window.dispatchEvent(new Event('online')));
    await expect.poll(() => cut).toBeGreaterThan(i);
  }
  await saved(teacher);
  const [said] = await voicesOf(teacher, c);
  expect((await heardElsewhere(teacher, said!)).seconds).toBeGreaterThan(2);
});

test('a tab that is closed while one talks: what was said until then stands at its place', async ({
  onDesk,
}) => {
  const { c, teacher } = await onDesk();
  await willSay(teacher, 'lines');
  await pointAtWord(teacher);
  await touchKey(teacher, 'v');
  await recording(teacher, 4);
  const context = teacher.context();
  await teacher.close({ runBeforeUnload: false });
  const again = await context.newPage();
  await again.goto('/');
  await expect(again.getByText('A recording that was cut off was kept.')).toBeVisible();
  await expect.poll(async () => (await voicesOf(again, c)).length).toBe(1);
  const [said] = await voicesOf(again, c);
  expect(said!.ms).toBeGreaterThan(3000);
  await openDesk(again, c);
  await expect(again.getByRole('button', { name: /^Play Voice note/ })).toBeVisible();
});

test('with the keyboard alone: words are walked to and spoken to, the whole copy too, and both are heard', async ({
  onDesk,
}) => {
  const { c, teacher } = await onDesk();
  await teacher.keyboard.press('t');
  await teacher.keyboard.press('ArrowRight');
  await teacher.keyboard.press('Shift+ArrowRight');
  await touchKey(teacher, 'v');
  await recording(teacher, 1);
  await touchKey(teacher, 'v');
  const play = teacher.getByRole('button', { name: 'Play Voice note', exact: true });
  await expect(play).toBeVisible();
  await saved(teacher);
  const [note] = (await deskOf(teacher, c)).marking.marks.map((m) => m.mark as NoteMark);
  expect(note?.place.on === 'passage' && note.place.quote.exact.split(' ')).toHaveLength(2);
  await teacher.keyboard.press('Escape');
  await touchKey(teacher, 'Shift+V');
  await recording(teacher, 1);
  await touchKey(teacher, 'v');
  const whole = teacher.getByRole('button', { name: 'Play Voice note about the whole copy' });
  await expect(whole).toBeVisible();
  await whole.focus();
  await teacher.keyboard.press('Enter');
  await expect(teacher.getByRole('button', { name: 'Pause Voice note about the whole copy' })).toBeVisible();
  const where = teacher.getByRole('slider', { name: 'Where Voice note about the whole copy is' });
  await where.focus();
  await teacher.keyboard.press('ArrowLeft');
  await expect(where).toHaveAttribute('aria-valuetext', /^0:0\d of 0:0\d$/);
  expect(await objectionsTo(teacher)).toEqual([]);
});

test('no microphone, a refusal, one that is pulled out, a touch, and silence: each is said, and what was said is kept', async ({
  onDesk,
}) => {
  const { c, teacher } = await onDesk();
  const fails = (name: string) =>
    teacher.evaluate(async (error) => {
      const stand = await import(`${location.origin}/stand-in/devices.js`);
      const page = window as typeof window & { real?: unknown };
      page.real ??= stand.mediaDevices.getUserMedia;
      stand.mediaDevices.getUserMedia = async () => {
        throw new DOMException('no', error);
      };
    }, name);
  await fails('NotFoundError');
  await pointAtWord(teacher);
  await touchKey(teacher, 'v');
  await expect(teacher.getByText(/has no microphone that Jotmark can hear/)).toBeVisible();
  await fails('NotAllowedError');
  await touchKey(teacher, 'v');
  await expect(teacher.getByText(/does not let Jotmark listen/)).toBeVisible();
  await expect(recorderOf(teacher)).toBeHidden();

  // The real stand-in again, and its track to pull out.
  await teacher.evaluate(async () => {
    const stand = await import(`${location.origin}/stand-in/devices.js`);
    const page = window as typeof window & { real: () => Promise<MediaStream>; track?: MediaStreamTrack };
    stand.mediaDevices.getUserMedia = async (wish: unknown) => {
      const stream = await (page.real as (w: unknown) => Promise<MediaStream>)(wish);
      page.track = stream.getAudioTracks()[0]!;
      return stream;
    };
  });
  await willSay(teacher, 'scale');
  await touchKey(teacher, 'v');
  await recording(teacher, 3);
  await teacher.evaluate(() => {
    const { track } = window as typeof window & { track: MediaStreamTrack };
    track.dispatchEvent(new Event('ended'));
  });
  await expect(
    teacher.getByText('The microphone was unplugged. What you said until then is kept.'),
  ).toBeVisible();
  await expect(teacher.getByRole('button', { name: /^Play Voice note/ })).toBeVisible();
  await saved(teacher);
  expect((await voicesOf(teacher, c))[0]!.ms).toBeGreaterThan(1500);

  // A touch, by two quick presses; on a machine where they are not quick, it is the silence that is told.
  await teacher.evaluate(async () => {
    const stand = await import(`${location.origin}/stand-in/devices.js`);
    const page = window as typeof window & { real: (wish: unknown) => Promise<MediaStream> };
    stand.mediaDevices.getUserMedia = async (wish: unknown) => {
      const stream = await page.real(wish);
      for (const track of stream.getAudioTracks()) track.enabled = false;
      return stream;
    };
  });
  await teacher.keyboard.press('Escape');
  await teacher.mouse.move(...(await onPage(teacher, 0.5, 0.8)));
  await touchKey(teacher, 'v');
  await expect(recorderOf(teacher).getByText(/Recording 0:/)).toBeVisible();
  await touchKey(teacher, 'v');
  await expect(teacher.getByText(/too short to say anything|Nothing was heard/)).toBeVisible();
  await expect(recorderOf(teacher)).toBeHidden();
  expect(await voicesOf(teacher, c)).toHaveLength(1);
});

test('a clip of the camera, about the whole copy, and the form of it that old browsers play', async ({
  onDesk,
}) => {
  const { c, teacher } = await onDesk();
  const slip = teacher.getByRole('group', { name: 'Voice note about the whole copy' });
  await slip.getByRole('button', { name: 'Clip' }).click();
  await expect(recorderOf(teacher).getByText(/Recording a clip 0:0[3-9]/)).toBeVisible();
  await recorderOf(teacher).getByRole('button', { name: /^Stop/ }).click();
  await expect(teacher.getByRole('button', { name: 'Play Voice note about the whole copy' })).toBeVisible();
  await saved(teacher);
  const clip = (await deskOf(teacher, c)).marking.slip.voice.value!;
  expect(clip.type).toBe('video/webm');
  expect(clip.ms).toBeGreaterThan(2000);
  const { request } = teacher.context();
  await expect
    .poll(async () => (await request.get(`/api/voices/${clip.file}/plain`)).headers()['content-type'])
    .toBe('video/mp4');
});
