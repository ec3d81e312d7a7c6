import type { PDFPage } from '@cantoo/pdf-lib';
import type { AnswerKind, Question, QuestionId } from '@jotmark/core';
import { PLACES } from '../island/height.ts';
import { UNIT } from '../people/people.ts';
import { drawMap } from './map.ts';
import { GREY, PAGE, Paper } from './paper.ts';

/** Where an answer goes: on ruled lines from (x, y) of the first baseline, or into a box. y down, points. */
export interface AnswerPlace {
  readonly question: string;
  /** The most it can earn. */
  readonly points: number;
  readonly page: number;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly leading: number;
  readonly lines: number;
  /** Where a typed answer goes: the ruled lines, or the box. */
  readonly box: readonly [number, number, number, number];
  readonly answer: AnswerKind;
}

export interface Worksheet {
  readonly title: string;
  readonly instructions: string;
  readonly points: number;
  readonly bytes: Uint8Array;
  readonly places: readonly AnswerPlace[];
  /** Where the student's name goes on every page. */
  readonly name: { readonly x: number; readonly y: number };
}

const LEADING = 24;
const NAME = { x: 392, y: 44 } as const;

/** A worksheet as it is being written, question after question. */
class Draft {
  readonly #paper: Paper;
  readonly #title: string;
  readonly places: AnswerPlace[] = [];
  #page!: PDFPage;
  #y = 0;
  #pages = 0;
  points = 0;

  constructor(paper: Paper, title: string) {
    this.#paper = paper;
    this.#title = title;
    this.newPage();
  }

  newPage(): void {
    this.#page = this.#paper.page();
    this.#pages++;
    const first = this.#pages === 1;
    this.#paper.text(this.#page, this.#title, PAGE.left, first ? 74 : 60, first ? 19 : 11, 'bold');
    if (first) this.#paper.text(this.#page, UNIT, PAGE.left, 92, 9, 'plain', GREY);
    this.#paper.text(this.#page, 'Name', NAME.x - 32, NAME.y, 9, 'plain', GREY);
    this.#paper.rule(this.#page, NAME.x - 4, PAGE.right, NAME.y + 3);
    this.#paper.right(this.#page, `page ${this.#pages}`, PAGE.right, 812, 8, GREY);
    this.#y = first ? 116 : 92;
  }

  map(km: number): void {
    const width = 7 * km;
    drawMap(this.#paper, this.#page, { x: (PAGE.width - width) / 2, y: this.#y, km }, PLACES);
    this.#y += 6 * km + 34;
  }

  say(text: string): void {
    this.#y =
      this.#paper.paragraph(this.#page, text, PAGE.left, this.#y + 4, PAGE.right - PAGE.left, 11, 15) + 8;
  }

  /** `short` gives the answer one line of that width; otherwise ruled lines over the whole width; `boxed` a box instead. */
  ask(
    question: string,
    text: string,
    points: number,
    room: { lines?: number; short?: number; boxed?: number; unit?: string },
  ): void {
    const x = PAGE.left + 26;
    this.points += points;
    this.#paper.text(this.#page, question, PAGE.left, this.#y, 11.5, 'bold');
    this.#paper.right(
      this.#page,
      points === 1 ? '1 point' : `${points} points`,
      PAGE.right,
      this.#y,
      8.5,
      GREY,
    );
    this.#y = this.#paper.paragraph(this.#page, text, x, this.#y, PAGE.right - x - 56, 11.5, 15.5) + 8;
    const width = room.short ?? PAGE.right - x;
    if (room.boxed) {
      this.#paper.box(this.#page, x, this.#y - 8, width, room.boxed);
      this.places.push({
        question,
        points,
        page: this.#pages - 1,
        x: x + 8,
        y: this.#y + 12,
        width: width - 16,
        leading: 19,
        lines: Math.floor(room.boxed / 19),
        box: [x, this.#y - 8, x + width, this.#y - 8 + room.boxed],
        answer: { kind: 'paragraph', lines: null },
      });
      this.#y += room.boxed + 20;
      return;
    }
    const lines = room.lines ?? 1;
    this.places.push({
      question,
      points,
      page: this.#pages - 1,
      x: x + 3,
      y: this.#y + 6,
      width: width - 6,
      leading: LEADING,
      lines,
      box: [x, this.#y + 10 - LEADING, x + width, this.#y + 10 + (lines - 1) * LEADING],
      answer: room.unit
        ? { kind: 'number', unit: room.unit }
        : lines > 1
          ? { kind: 'paragraph', lines }
          : { kind: 'line' },
    });
    for (let i = 0; i < lines; i++) this.#paper.rule(this.#page, x, x + width, this.#y + 10 + i * LEADING);
    this.#y += lines * LEADING + 20;
  }
}

async function worksheet(
  title: string,
  instructions: string,
  write: (draft: Draft) => void,
): Promise<Worksheet> {
  const paper = await Paper.of(null);
  const draft = new Draft(paper, title);
  write(draft);
  paper.pdf.setTitle(title);
  paper.pdf.setCreationDate(new Date(0));
  paper.pdf.setModificationDate(new Date(0));
  return {
    title,
    instructions,
    points: draft.points,
    bytes: await paper.pdf.save(),
    places: draft.places,
    name: NAME,
  };
}

export function signsAndSquares(): Promise<Worksheet> {
  return worksheet('Signs and squares', 'Use the map. Read along first, then up.', (d) => {
    d.map(52);
    d.ask('1', 'Name the place in square 34 76.', 1, { short: 190 });
    d.ask('2', 'Give the four-figure grid reference of Skerry Light.', 2, { short: 190 });
    d.newPage();
    d.ask('3', 'Draw the map sign for a hut in the box and say what it stands for.', 1, {
      boxed: 60,
      short: 260,
    });
    d.ask('4', 'Why do we read eastings before northings? Write one or two sentences.', 4, { lines: 5 });
  });
}

export function findingYourWay(): Promise<Worksheet> {
  return worksheet(
    'Finding your way on Hollin Island',
    'Take a ruler and a protractor. Show how you worked.',
    (d) => {
      d.map(58);
      d.ask('1', 'Give the four-figure grid reference of Tarn Hut.', 1, { short: 180 });
      d.ask(
        '2',
        'How far is it from Fennel Point to Tarn Hut in a straight line? Show how you measured.',
        2,
        { lines: 3 },
      );
      d.newPage();
      d.ask('3', 'What is the bearing from Fennel Point to Hollin Top?', 1, { short: 180 });
      d.ask('4', 'How many metres do you climb from the coast at Fennel Point to the top of Hollin Top?', 2, {
        lines: 2,
      });
      d.ask(
        '5',
        'A walker says: “The way over the hill from the south is the easy way.” Do you agree? Use the contour lines.',
        4,
        { lines: 9 },
      );
      d.newPage();
      d.say(
        'If you have time: plan a walk from Fennel Point to Skerry Light that never goes above 60 metres. No points, but I would love to read it.',
      );
      d.ask('+', 'Describe your walk, with grid references.', 0, { lines: 12 });
    },
  );
}

export function walkToTheLighthouse(): Promise<Worksheet> {
  return worksheet(
    'A walk to the lighthouse',
    'Plan first, then write. Bring your copy on Thursday.',
    (d) => {
      d.map(58);
      d.ask('1', 'Give six-figure grid references of Tarn Hut and Skerry Light.', 2, { lines: 2 });
      d.newPage();
      d.ask('2', 'Fill in the legs of your walk: from, to, bearing, distance.', 4, { boxed: 190 });
      d.ask('3', 'How long will it take at 4 km an hour? Add ten minutes for every 100 m of climbing.', 3, {
        lines: 5,
      });
      d.newPage();
      d.ask('4', 'Which leg is the hardest? Explain with the contour lines.', 4, { lines: 10 });
      d.newPage();
      d.ask('5', 'Mist comes in at the tarn. What do you do? Write it as advice to a friend.', 7, {
        lines: 16,
      });
    },
  );
}

/** The questions of a worksheet as Jotmark knows them, in the order they are asked. */
export function questionsOf(sheet: Worksheet, newId: () => QuestionId): Question[] {
  return sheet.places.map((place) => ({
    id: newId(),
    page: place.page,
    box: place.box,
    part: false,
    label: /^\d/.test(place.question) ? null : place.question,
    points: place.points * 100,
    answer: place.answer,
  }));
}

export function distancesOnTheIsland(): Promise<Worksheet> {
  return worksheet('Distances on the island', 'One centimetre on this map is 500 metres.', (d) => {
    d.map(52);
    d.ask('1', 'How many metres are 3 centimetres on this map?', 1, { short: 120, unit: 'm' });
    d.ask('2', 'How far is it from Tarn Hut to Skerry Light in a straight line?', 2, {
      short: 120,
      unit: 'km',
    });
    d.newPage();
    d.ask('3', 'Which place is nearest to Hollin Top?', 1, { short: 190 });
    d.ask(
      '4',
      'The path is 6 km long, you walk 4 km an hour. How long do you take, and why may it be longer?',
      4,
      {
        lines: 6,
      },
    );
  });
}

export function weatherOnTheIsland(): Promise<Worksheet> {
  return worksheet('Weather on the island', 'Read the table first. Numbers need their unit.', (d) => {
    d.say(
      'The weather station at Tarn Hut wrote down: Monday 11 °C and 4 mm of rain, Tuesday 9 °C and 17 mm, Wednesday 13 °C and none.',
    );
    d.ask('1', 'How much rain fell in the three days together?', 1, { short: 120, unit: 'mm' });
    d.ask('2', 'On which day would you walk to Skerry Light? Give a reason.', 2, { lines: 3 });
    d.ask('3', 'Draw a bar for the rain of each day.', 3, { boxed: 150 });
  });
}
