import { readFileSync } from 'node:fs';
import { type ChangeId, digestOf, type Mark, type MarkId, type MarkingChange } from '@jotmark/core';
import { keepWhole, PersonTable, type Running, takeChanges } from '@jotmark/server';
import type { Browser, Page } from '@playwright/test';
import { context, launch, serveBare, signedIn } from './browser.ts';
import { atMost, type Figure, inTurn, median } from './figures.ts';
import { PenHand, watched, watchTasks } from './pen-hand.ts';
import { type BenchCopy, benchClass, id } from './school.ts';

const MINUTES = 5;
const STROKES = 500;
const ROUNDS = 7;
const WARM = 3;
const SPOKEN = new URL('../school/assets/voice/talk.ogg', import.meta.url);
const SPOKEN_MS = 18_210;

/** What a recording costs: until it is ready, until it begins, and what the pen feels of it. */
export async function voiceFigures(running: Running): Promise<Figure[]> {
  const browser = await launch();
  const { address, server } = await serveBare(new Uint8Array());
  const figures = [
    ...(await readyFigures(browser, address)),
    ...(await deskFigures(browser, running, address)),
  ];
  server.close();
  await browser.close();
  return figures;
}

async function readyFigures(browser: Browser, address: string): Promise<Figure[]> {
  const page = await (await context(browser)).newPage();
  await page.goto(`${address}/bare-voice.html`);
  const ask = (what: string) => () =>
    page.evaluate(
      ([w, m]) =>
        (window as unknown as { voice(w: string, m: number): Promise<number> }).voice(
          w as string,
          m as number,
        ),
      [what, MINUTES],
    );
  await ask('bare')();
  const [ours, baseline, ratio] = await inTurn(3, ask('ready'), ask('bare'));
  await page.close();
  return [
    {
      what: `a recording of ${MINUTES} minutes until it is ready`,
      ours,
      baseline,
      ratio,
      against: 'its bare encoding',
      limit: 1.3,
    },
  ];
}

async function deskFigures(browser: Browser, running: Running, address: string): Promise<Figure[]> {
  const { login, copies } = await benchClass(running, 1, STROKES);
  await talkOn(running, login, copies[0]!);
  /** The desk and the bare stroke beside it, both as new as each other: a page that has drawn for minutes is quicker than one that was just opened. */
  const anew = async <T>(work: (page: Page, bare: Page) => Promise<T>): Promise<T> => {
    const bare = await (await context(browser)).newPage();
    await bare.goto(`${address}/bare-stroke.html`);
    const page = await signedIn(browser, running, login);
    await page.goto(`${running.address}/desk/${copies[0]!.copyId}`);
    await there(page).waitFor();
    await page.locator('canvas[data-drawn]').first().waitFor();
    await page.keyboard.press('1');
    const felt = await work(page, bare);
    await page.context().close();
    await bare.context().close();
    return felt;
  };
  const began = await anew((page) => beginnings(page));
  const still = await anew((page, bare) => penWhile(page, bare, async () => {}));
  const recording = await anew((page, bare) =>
    penWhile(page, bare, async () => {
      if (await recorderIn(page).count()) return;
      await page.keyboard.press('v');
      await recorderIn(page)
        .getByText(/Recording \d/)
        .waitFor();
    }),
  );
  const playing = await anew((page, bare) =>
    penWhile(page, bare, async () => {
      // A talk that came to its end begins anew.
      if (await page.getByRole('button', { name: /^Pause Voice note/ }).count()) return;
      await page.getByRole('slider', { name: /^Where Voice note/ }).fill('0');
      await page.getByRole('button', { name: /^Play Voice note/ }).click();
    }),
  );
  return [
    atMost('from the key to recording, after the first time', began, 50),
    { ...penFigures('while nothing else goes on', still)[0]!, limit: null },
    ...penFigures('while one records', recording),
    ...penFigures(`while a talk of ${STROKES} strokes is played`, playing),
  ];
}

/** All strokes and the note, and while one records the note that it will be. */
const there = (page: Page) =>
  page.getByText(new RegExp(`^(${STROKES + 1} marks, 1 note|${STROKES + 2} marks, 2 notes)$`));
const recorderIn = (page: Page) => page.getByRole('region', { name: 'Recorder' });

interface Felt {
  readonly ours: number;
  readonly baseline: number;
  readonly ratio: number;
  readonly slowest: number;
  readonly task: number;
}

const penFigures = (when: string, { ours, baseline, ratio, slowest, task }: Felt): Figure[] => [
  {
    what: `script of a pen move, ${when}`,
    ours,
    baseline,
    ratio,
    against: 'the live stroke alone',
    limit: 1.5,
  },
  atMost(`the same, the slowest of twenty, with its frame, ${when}`, slowest, 4),
  atMost(`longest task while writing, ${when}`, task, 50),
];

/** What a pen move costs while something goes on; strokes are taken back, so that it is always the same page. */
async function penWhile(page: Page, bare: Page, goesOn: () => Promise<void>): Promise<Felt> {
  const hand = await PenHand.on(page);
  const theirs = await PenHand.on(bare);
  await watchTasks(page);
  let task = 0;
  const desk = async () => {
    await page.bringToFront();
    await goesOn();
    await page.waitForTimeout(300);
    await watched(page);
    const { move } = await hand.stroke();
    await page.waitForTimeout(300);
    task = Math.max(task, await watched(page));
    await page.keyboard.press('Control+z');
    await there(page).waitFor();
    return move;
  };
  const alone = async () => {
    await bare.bringToFront();
    return (await theirs.stroke()).move;
  };
  for (let i = 0; i < WARM; i++) {
    await desk();
    await alone();
  }
  task = 0;
  const [ours, baseline, ratio] = await inTurn(ROUNDS, desk, alone);
  await page.bringToFront();
  await goesOn();
  await page.waitForTimeout(300);
  const moves = (await hand.moves()).sort((a, b) => a - b);
  await page.waitForTimeout(300);
  await page.keyboard.press('Control+z');
  await there(page).waitFor();
  await page.getByText('Saved', { exact: true }).waitFor();
  return { ours, baseline, ratio, slowest: moves[Math.floor(moves.length * 0.95)]!, task };
}

/** From the press of the key until the recorder says that it records; the first time, in which a microphone is opened, is left out. */
async function beginnings(page: Page): Promise<number> {
  await page.evaluate(() => {
    const w = window as unknown as { pressed: number; began: number };
    window.addEventListener(
      'keydown',
      (e) => {
        if (e.key === 'v') w.pressed = performance.now();
      },
      true,
    );
    new MutationObserver(() => {
      const says = document.querySelector('[aria-label="Recorder"]')?.textContent ?? '';
      if (/^Recording \d/.test(says) && !w.began) w.began = performance.now();
    }).observe(document.body, { subtree: true, childList: true, characterData: true });
  });
  const times: number[] = [];
  for (let i = 0; i < 6; i++) {
    await page.evaluate(() => {
      (window as unknown as { began: number }).began = 0;
    });
    await page.keyboard.press('v');
    await page
      .getByRole('region', { name: 'Recorder' })
      .getByText(/Recording \d/)
      .waitFor();
    times.push(
      await page.evaluate(() => {
        const w = window as unknown as { pressed: number; began: number };
        return w.began - w.pressed;
      }),
    );
    await page.waitForTimeout(400);
    await page.getByRole('button', { name: 'Discard the recording' }).click();
    await page.waitForTimeout(300);
  }
  return median(times.slice(1));
}

/** A talk in which all strokes of the copy were made, one after the other. */
async function talkOn({ house }: Running, login: string, copy: BenchCopy): Promise<void> {
  const teacher = await house.db.getRepository(PersonTable).findOneByOrFail({ login });
  const bytes = new Uint8Array(readFileSync(SPOKEN));
  await keepWhole(house, teacher, bytes, 'audio/ogg');
  const marks: { id: MarkId }[] = await house.db.query(
    'SELECT k.id FROM mark k JOIN marking m ON m.id = k.marking_id WHERE m.hand_in_id = ? ORDER BY k.id',
    [copy.handInId],
  );
  const each = SPOKEN_MS / marks.length;
  const made = marks.map((m, i) => ({
    mark: m.id,
    from: Math.round(i * each),
    to: Math.round((i + 0.9) * each),
  }));
  const note: Mark = {
    v: 2,
    id: id<MarkId>(),
    document: copy.documentId,
    page: 0,
    colour: 'lake',
    focus: null,
    madeAt: 1,
    kind: 'note',
    place: { on: 'spot', x: 300, y: 60 },
    words: '',
    voice: {
      file: digestOf(bytes),
      type: 'audio/ogg',
      ms: SPOKEN_MS,
      peaks: [],
      captions: [],
      talk: { made, seen: [] },
    },
  };
  const change: MarkingChange = { id: id<ChangeId>(), base: null, type: 'put', mark: note, was: null };
  await takeChanges(house, { ...teacher } as never, { handInId: copy.handInId }, [change]);
}
