import {
  bandsOver,
  type ChangeId,
  type DocumentId,
  findQuote,
  inkOutline,
  type Mark,
  type MarkId,
  MarkingChange,
  type PageText,
  quantise,
  quoteOf,
  type Recording,
  type WordRange,
} from '@jotmark/core';
import type { Answer } from '../answers/answers.ts';
import type { Chance } from '../chance.ts';
import { smooth } from '../handwriting/write.ts';
import type { AnswerPlace, Worksheet } from '../worksheet/worksheets.ts';
import { correctionsFor, patternIn } from './corrections.ts';

export interface MarkMaker {
  readonly document: DocumentId;
  readonly text: readonly PageText[];
  newId<T extends string>(): T;
  now(): number;
}

type Share = 'none' | 'part' | 'all';

/** What a comment is about, by how much of the answer was right. */
const FOCUS: Readonly<Record<Share, string>> = { none: 'accuracy', part: 'method', all: 'well put' };

/** Everything the teacher writes beside answers, with what it is about: what a bank of theirs holds. */
export const saidBesideAnswers = (): { sheet: string; words: string; focus: string }[] =>
  Object.entries(WORDS).flatMap(([sheet, questions]) =>
    Object.values(questions).flatMap((shares) =>
      (Object.entries(shares) as [Share, readonly string[]][]).flatMap(([share, all]) =>
        all.map((words) => ({ sheet, words, focus: FOCUS[share] })),
      ),
    ),
  );

/** What the teacher writes beside an answer, by worksheet and question, and by how much of it was right. */
const WORDS: Readonly<Record<string, Readonly<Record<string, Readonly<Record<Share, readonly string[]>>>>>> =
  {
    'Signs and squares': {
      '1': {
        none: ['Find line 34 at the foot of the map, then line 76 at its side.'],
        part: ['Which one? It has a name.'],
        all: [],
      },
      '2': {
        none: ['Skerry Light stands left of line 37: which square is that?'],
        part: ['Along first, then up: you have swapped them.'],
        all: [],
      },
      '3': { none: [], part: ['A house where anybody may sleep: what do we call it?'], all: [] },
      '4': {
        none: ['Give a reason: what goes wrong if one person reads up first?'],
        part: ['True. Now say what would happen otherwise.', 'A rule has a reason. Which one?'],
        all: ['You say what would go wrong: that is the reason.'],
      },
    },
    'Finding your way on Hollin Island': {
      '1': {
        none: [
          'Count the squares again: is the hut left or right of the 36 line?',
          'Put your finger on the bottom left corner of its square and read from there.',
        ],
        part: ['Along first, then up: you have swapped them.'],
        all: [],
      },
      '2': {
        none: ['A length on paper is not yet a distance. What does the scale bar say?'],
        part: [
          'Good start. Hold your strip of paper to the scale bar and read it off there.',
          'A straight line cuts the corner: lay the ruler from point to hut.',
        ],
        all: ['Clear working, I can follow every step.'],
      },
      '3': {
        none: [
          'Stand on Fennel Point and turn from north: which way do you face?',
          'Clockwise from north: check which zero your protractor starts from. [How it is laid](https://hollin-bay.example/protractor)',
        ],
        part: ['Right direction. Now with the protractor, in degrees.'],
        all: [],
      },
      '4': {
        none: [
          'You counted the lines well. Now:\n- how many metres lie between two of them?\n- so how high is the top? $9 \\times 20$ is not 9.',
        ],
        part: ['Nearly. The height of the top is written on the map.'],
        all: [],
      },
      '5': {
        none: ['What do the lines look like on the south side? Start from there.'],
        part: [
          'Many lines, yes. Are they close or far apart, and what does that mean for the legs?',
          'You have the rule. Now point to a place on the map where it shows.',
        ],
        all: [
          'This is evidence: you compare both sides.',
          'You weigh one side against the other before you decide. Well argued.',
        ],
      },
    },
  };

/** Marks a teacher would put on one filled-in worksheet. */
export function marksFor(
  chance: Chance,
  maker: MarkMaker,
  sheet: Worksheet,
  answers: ReadonlyMap<string, Answer>,
): Mark[] {
  const marks: Mark[] = [];
  const base = (page: number, colour: Mark['colour'], focus: string | null) => ({
    v: 2 as const,
    id: maker.newId<MarkId>(),
    document: maker.document,
    page,
    colour,
    focus,
    madeAt: maker.now(),
  });
  for (const place of sheet.places) {
    const answer = answers.get(place.question);
    if (!answer?.text) continue;
    const right = answer.points >= place.points * 100 ? 'all' : answer.points > 0 ? 'part' : 'none';
    if (right === 'all')
      marks.push({ ...base(place.page, 'garnet', null), kind: 'ink', points: tick(chance, place), width: 2 });
    else if (right === 'none' && place.lines === 1)
      marks.push({
        ...base(place.page, 'garnet', null),
        kind: 'ink',
        points: ring(chance, place),
        width: 1.6,
      });
    const words = WORDS[sheet.title]?.[place.question]?.[right] ?? [];
    if (words.length && (right !== 'all' || chance.yes(0.7))) {
      const said = passageOf(maker.text[place.page]!, answer.text);
      const colour = right === 'all' ? 'moss' : right === 'part' ? 'amber' : 'garnet';
      const focus = FOCUS[right];
      if (said && right === 'all')
        marks.push({
          ...base(place.page, 'moss', 'well put'),
          kind: 'highlight',
          place: passage(maker.text[place.page]!, firstWords(said, 9)),
        });
      marks.push({
        ...base(place.page, colour, focus),
        kind: 'note',
        words: chance.pick(words),
        ...(right === 'part' && place.points > 1 && { points: answer.points }),
        place: said
          ? passage(maker.text[place.page]!, firstWords(said, 6))
          : { on: 'spot', x: place.x + place.width - 40, y: place.y - 4 },
      });
    }
    marks.push(...correctionsFor(base, place.page, maker.text[place.page]!, answer.text));
  }
  const pattern = patternIn(
    base,
    maker.document,
    sheet.places.map((p) => ({
      page: p.page,
      text: maker.text[p.page]!,
      answer: answers.get(p.question)?.text ?? '',
    })),
  );
  return pattern ? [...marks, pattern] : marks;
}

function passage(text: PageText, range: WordRange) {
  return { on: 'passage' as const, bands: bandsOver(text, range), quote: quoteOf(text, range) };
}

/** The words of a typed answer on the page; null when it was written by hand. */
function passageOf(text: PageText, answer: string): WordRange | null {
  const found = findQuote(text, {
    exact: answer.replace(/\s+/g, ' '),
    prefix: '',
    suffix: '',
    start: 0,
    end: 0,
  });
  return found.ok ? found.range : null;
}

const firstWords = (range: WordRange, most: number): WordRange => ({
  from: range.from,
  to: Math.min(range.to, range.from + most - 1),
});

function pen(chance: Chance, points: readonly [number, number][]): number[] {
  const drawn = smooth(smooth(points));
  const stroke = drawn.flatMap(([x, y], i) =>
    quantise(x, y, 0.35 + 0.4 * Math.sin((i / drawn.length) * Math.PI) + chance.between(-0.04, 0.04)),
  );
  // A stroke that draws nothing would be a slip of this file.
  if (inkOutline(stroke, 2).length === 0) throw new Error('A pen stroke without an outline');
  return stroke;
}

function tick(chance: Chance, place: AnswerPlace): number[] {
  const x = place.x + Math.min(place.width - 30, 190) + chance.between(-12, 12);
  const y = place.y - 6 + chance.between(-3, 3);
  return pen(chance, [
    [x, y],
    [x + 4, y + 3],
    [x + 8, y + 10],
    [x + 14, y - 4],
    [x + 24, y - 18],
  ]);
}

function ring(chance: Chance, place: AnswerPlace): number[] {
  const cx = place.x + 30;
  const cy = place.y - 4;
  return pen(
    chance,
    Array.from({ length: 10 }, (_, k): [number, number] => {
      const t = -2 + (k / 9) * 6.9;
      return [cx + 36 * Math.cos(t) + chance.between(-2, 2), cy + 13 * Math.sin(t) + chance.between(-1, 1)];
    }),
  );
}

/** Changes that put the marks, the grade and the closing words, and call the copy marked. */
export function changesFor(
  maker: Pick<MarkMaker, 'newId'>,
  marks: readonly Mark[],
  slip: { grade: number | null; closing: string; voice: Recording | null; done: boolean } | null,
): MarkingChange[] {
  const id = () => maker.newId<ChangeId>();
  const changes: MarkingChange[] = marks.map((mark) => ({
    id: id(),
    base: null,
    type: 'put',
    mark,
    was: null,
  }));
  if (slip) {
    if (slip.grade !== null)
      changes.push({ id: id(), base: null, type: 'write', field: 'grade', value: slip.grade, was: null });
    if (slip.closing)
      changes.push({ id: id(), base: null, type: 'write', field: 'closing', value: slip.closing, was: '' });
    if (slip.voice)
      changes.push({ id: id(), base: null, type: 'write', field: 'voice', value: slip.voice, was: null });
    if (slip.done)
      changes.push({ id: id(), base: null, type: 'write', field: 'done', value: true, was: false });
  }
  // The school comes in by no edge that would check it, so it checks itself.
  return changes.map((change) => MarkingChange.parse(change));
}
