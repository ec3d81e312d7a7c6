import { PDFDocument } from '@cantoo/pdf-lib';
import { type ChangeId, LINED, type LongText, layBlock, layPages, type QuestionId } from '@jotmark/core';
import {
  addPerson,
  addWorksheet,
  FILL_NOTHING,
  Fonts,
  fillSheet,
  makeWritingPages,
  type Running,
  readWorksheet,
  setAssignment,
  TEXT_FIELD,
  takeCopyChanges,
} from '@jotmark/server';
import type { Page } from '@playwright/test';
import * as Y from 'yjs';
import { launch, signedIn } from './browser.ts';
import { atMost, type Figure, inTurn, median, timed } from './figures.ts';
import { benchClass, id, PASSWORD } from './school.ts';

const SENTENCE = 'The water of the tarn is cold in spring, and nobody swims there before the end of June. ';
/** 100 paragraphs of 100 words, about. */
const PARAGRAPHS = Array.from({ length: 100 }, () => SENTENCE.repeat(6).trim());

/** Writing long: a key in ten thousand words, two who see each other, the trail it leaves, and the pages it becomes. */
export async function longFigures(running: Running): Promise<Figure[]> {
  return [...(await writingFigures(running)), await pagesFigure()];
}

async function writingFigures(running: Running): Promise<Figure[]> {
  const { house } = running;
  const { login, classId, assignmentId } = await benchClass(running, 1, 0);
  const [teacher] = await house.db.query('SELECT * FROM person WHERE login = ?', [login]);
  const made = await makeWritingPages(house, teacher.id, assignmentId as never, null);
  while ((await readWorksheet(house, teacher, made)).document.reading.state !== 'done')
    await new Promise((r) => setTimeout(r, 50));
  const question = (await readWorksheet(house, teacher, made)).questions[0]!.id;
  const students = [];
  for (const name of ['one', 'two']) {
    const person = await addPerson(house, {
      role: 'student',
      login: `${name}-${id()}`,
      given: name,
      family: 'Bench',
      password: PASSWORD,
    });
    await house.db.query(`INSERT INTO membership (class_id, person_id, role) VALUES (?, ?, 'student')`, [
      classId,
      person.id,
    ]);
    students.push(person);
  }
  const set = await setAssignment(
    house,
    {
      classId,
      title: 'Long',
      instructions: '',
      dueAt: null,
      most: null,
      together: { most: 2, chosenUntil: null, groups: [students.map((s) => s.id)] },
    },
    (a) => addWorksheet(house, a, made),
  );
  const copyId = set.copies.get(students[0]!.id)!;
  await takeCopyChanges(house, copyId, [
    { id: id<ChangeId>(), base: null, type: 'text', question, update: tenThousandWords() },
  ]);
  const browser = await launch();
  const open = async (login: string) => {
    const page = await signedIn(browser, running, login);
    await page.goto(`${running.address}/work/${copyId}`);
    const text = page.getByRole('textbox', { name: /^Text of/ });
    await text.getByText('cold in spring').first().waitFor();
    await text.click({ position: { x: 300, y: 12 } });
    await page.keyboard.press('Control+End');
    return page;
  };
  const [one, two] = [await open(students[0]!.login), await open(students[1]!.login)];
  const key = await keyFigure(one);
  const before = await trailOf(running, copyId);
  const sentence = 'and so the way along the shore was the longer one but';
  // As one types: five keys a second.
  await one.keyboard.type(sentence, { delay: 200 });
  await one.waitForTimeout(1500);
  const after = await trailOf(running, copyId);
  const seen = await seenFigure(one, two);
  await browser.close();
  return [
    atMost('script of a key in a text of 10,000 words', key, 8),
    atMost('two writers see each other, p95 of 25', seen, 1000),
    atMost('trail of a text, bytes a key at five keys a second', (after - before) / sentence.length, 60, 'B'),
  ];
}

function tenThousandWords(): string {
  const doc = new Y.Doc();
  const text = doc.getXmlFragment(TEXT_FIELD);
  doc.transact(() => {
    for (const words of PARAGRAPHS) {
      const paragraph = new Y.XmlElement('paragraph');
      paragraph.insert(0, [new Y.XmlText(words)]);
      text.push([paragraph]);
    }
  });
  return Buffer.from(Y.encodeStateAsUpdate(doc)).toString('base64');
}

async function keyFigure(page: Page): Promise<number> {
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable');
  const script = async () =>
    (await cdp.send('Performance.getMetrics')).metrics.find((m) => m.name === 'ScriptDuration')!.value * 1000;
  const words = 'the way over the hill from the south is the easy one ';
  await page.keyboard.type(words);
  const taken: number[] = [];
  for (let round = 0; round < 9; round++) {
    const before = await script();
    await page.keyboard.type(words, { delay: 30 });
    taken.push(((await script()) - before) / words.length);
  }
  return median(taken);
}

/** From a key of one until it stands at the other. */
async function seenFigure(one: Page, two: Page): Promise<number> {
  const times: number[] = [];
  for (let round = 0; round < 25; round++) {
    const word = `zz${round}yy`;
    const start = performance.now();
    await one.keyboard.type(`${word} `);
    await two.waitForFunction((w) => document.querySelector('.lined-text')?.textContent?.includes(w), word, {
      polling: 20,
    });
    times.push(performance.now() - start);
    await one.waitForTimeout(300);
  }
  return times.toSorted((a, b) => a - b)[Math.ceil(times.length * 0.95) - 1]!;
}

async function trailOf(running: Running, copyId: string): Promise<number> {
  const [row] = await running.house.db.query(
    'SELECT SUM(36 + 4 + 36 + 7 + 36 + 36 + LENGTH(value)) AS bytes FROM copy_trail WHERE copy_id = ?',
    [copyId],
  );
  return Number(row.bytes);
}

/** Ten thousand words laid on lined pages and written, against their very lines written bare with the same font. */
async function pagesFigure(): Promise<Figure> {
  const question = id<QuestionId>();
  const text: LongText = {
    type: 'doc',
    content: PARAGRAPHS.map((words) => ({ type: 'paragraph', content: [{ text: words }] })),
  };
  const ours = () =>
    timed(async () => {
      const pdf = await PDFDocument.create();
      pdf.addPage([LINED.width, LINED.height]);
      await fillSheet(pdf, {
        ...FILL_NOTHING,
        questions: [
          {
            id: question,
            page: 0,
            box: [60, 60, 200, 90],
            part: false,
            label: null,
            points: null,
            answer: { kind: 'long', words: null },
          },
        ],
        texts: { [question]: text },
      });
      await pdf.save();
    });
  // What is to be written is known before.
  const known = await PDFDocument.create();
  const fonts = await Fonts.for(known, PARAGRAPHS);
  const setting = { measure: (t: string, size: number) => fonts.width(t, size), formulas: null };
  const pages = layPages(text.content.map((b) => layBlock(b, setting)));
  const bare = () =>
    timed(async () => {
      const pdf = await PDFDocument.create();
      const [run] = (await Fonts.for(pdf, PARAGRAPHS)).runs('a');
      for (const { lines } of pages) {
        const page = pdf.addPage([LINED.width, LINED.height]);
        for (const [k, line] of lines.entries())
          for (const row of line.rows)
            for (const piece of row.pieces)
              if (piece.as === 'text')
                page.drawText(piece.text, {
                  x: LINED.left,
                  y: LINED.height - LINED.top - k * LINED.leading - LINED.baseline,
                  size: LINED.size,
                  font: run!.font,
                });
      }
      await pdf.save();
    });
  await ours();
  await bare();
  const [a, b, ratio] = await inTurn(9, ours, bare);
  return {
    what: `10,000 words become ${pages.length} pages`,
    ours: a,
    baseline: b,
    ratio,
    against: 'pdf-lib, the same lines bare',
    limit: 1.5,
  };
}
