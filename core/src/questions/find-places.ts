import { type Box, overlaps } from '../geometry/box.ts';
import { BLANK, type Line, type PageText } from '../passage/text-layer.ts';
import type { PageSize } from './arrange.ts';
import type { AnswerKind } from './question.ts';
import { inPageOrder } from './question.ts';
import type { PageShapes } from './shapes.ts';

/** A likely answer place, as it is offered to the teacher. */
export interface FoundPlace {
  readonly page: number;
  readonly box: Box;
  readonly answer: AnswerKind;
  /** "2b" as it is printed beside it; null when nothing is. */
  readonly label: string | null;
  /** Hundredths of a point, read from "(3 points)"; null when nothing says so. */
  readonly points: number | null;
}

interface Candidate {
  readonly box: Box;
  readonly answer: AnswerKind;
}

const width = (b: Box) => b[2] - b[0];
const height = (b: Box) => b[3] - b[1];
const hundredth = (n: number) => Math.round(n * 100) / 100;
const tidy = (b: Box): Box => b.map(hundredth) as unknown as Box;

/** Shorter rules are dashes and fractions. */
const SHORTEST_RULE = 40;
/** Ruled lines belong together when they are this far apart at most, in points. */
const WIDEST_LEADING = 42;
/** Room above the first ruled line when there is only one. */
const ONE_LINE = 20;
/** A box smaller than this is a tick box. */
const LARGEST_TICK = 17;

/**
 * Likely answer places of one page, in page order: form fields, runs of underscores, ruled lines, empty boxes and tick
 * boxes, each with the question's number and points as they are printed beside it.
 */
export function findPlaces(page: number, text: PageText, shapes: PageShapes, size: PageSize): FoundPlace[] {
  const fields = shapes.fields.flatMap(fromField);
  const taken: Box[] = fields.map((f) => f.box);
  const free = (c: Candidate) => {
    if (taken.some((t) => overlapShare(c.box, t) > 0.3)) return false;
    taken.push(c.box);
    return true;
  };
  const ticks = tickBoxes(text, shapes).filter(free);
  const boxes = emptyBoxes(text, shapes, size).filter(free);
  const dashes = underscores(text).filter(free);
  const ruled = ruledLines(text, shapes, size).filter(free);
  const found = inPageOrder(
    [...fields, ...ticks, ...boxes, ...dashes, ...ruled]
      .filter((c) => !isForName(c.box, text))
      .map((c) => ({ ...c, page })),
  );
  return withoutRepeats(readBeside(found, text));
}

/** A place that a teacher draws by hand, with the number and the points that are printed beside it, as found ones have them. */
export function readPlace(page: number, box: Box, answer: AnswerKind, text: PageText): FoundPlace {
  return readBeside([{ page, box, answer }], text, 800)[0]!;
}

/** Name, class and date are no answers: every copy carries its student's name by itself. */
const HEAD_WORDS = /^(full|first|family|last)?\s*(name|names|class|form|group|date|teacher)\s*:?$/i;

function isForName(box: Box, text: PageText): boolean {
  return text.words.some(
    (w) =>
      w.box[2] <= box[0] + 8 &&
      box[0] - w.box[2] < 16 &&
      w.box[3] > box[1] &&
      w.box[1] < box[3] + 2 &&
      HEAD_WORDS.test(w.text.replace(/_+$/, '')),
  );
}

/** Where a page asks for the student's name: right behind the word "Name", on its baseline; null where it does not. */
export function namePlace(text: PageText): { readonly x: number; readonly y: number } | null {
  const word = text.words.find((w) => /^name:?_*$/i.test(w.text));
  if (!word) return null;
  const letters = word.text.replace(/_+$/, '').length / word.text.length;
  return {
    x: hundredth(word.box[0] + letters * width(word.box) + 5),
    y: hundredth(word.box[1] + 0.76 * height(word.box)),
  };
}

function overlapShare(a: Box, b: Box): number {
  const w = Math.min(a[2], b[2]) - Math.max(a[0], b[0]);
  const h = Math.min(a[3], b[3]) - Math.max(a[1], b[1]);
  return w > 0 && h > 0 ? (w * h) / Math.min(width(a) * height(a), width(b) * height(b)) : 0;
}

function fromField(field: PageShapes['fields'][number]): Candidate[] {
  const all = around(field.boxes);
  if (width(all) < 8 || height(all) < 8) return [];
  switch (field.kind) {
    case 'text':
      return field.boxes.map((box) => ({ box: tidy(box), answer: { kind: 'line' } }));
    case 'paragraph':
      return field.boxes.map((box) => ({ box: tidy(box), answer: { kind: 'paragraph', lines: null } }));
    default: {
      const options = [...new Set(field.options.map((o) => o.trim()).filter(Boolean))].slice(0, 20);
      if (options.length === 0) return [];
      return [{ box: tidy(all), answer: { kind: 'choice', options, several: field.kind === 'several' } }];
    }
  }
}

function around(boxes: readonly Box[]): Box {
  return [
    Math.min(...boxes.map((b) => b[0])),
    Math.min(...boxes.map((b) => b[1])),
    Math.max(...boxes.map((b) => b[2])),
    Math.max(...boxes.map((b) => b[3])),
  ];
}

const UNIT =
  /^(mm|cm|m|km|g|kg|t|ml|l|s|min|h|°C?|%|€|\$|£|m²|m³|cm²|cm³|km²|km\/h|m\/s|N|J|W|V|A|degrees?|metres?|meters?|minutes?|hours?|points?)[.,;]?$/;

/** Runs of underscores (or dots) in the text; lines of them below each other are one paragraph; a unit right behind makes a number of it. */
function underscores(text: PageText): Candidate[] {
  const runs: { box: Box; unit: string | null }[] = [];
  for (const line of text.lines) {
    for (let i = line.from; i < line.to; i++) {
      const word = text.words[i]!;
      const run = /(_{4,}|\.{8,}|…{3,})/.exec(word.text);
      if (!run || HEAD_WORDS.test(word.text.slice(0, run.index))) continue;
      // A run inside a word, "Name:____", takes its share of the word's box.
      const from = run.index / word.text.length;
      const to = (run.index + run[0].length) / word.text.length;
      const left = word.box[0] + from * width(word.box);
      const next = i + 1 < line.to ? text.words[i + 1]!.text : '';
      const behind = word.text.slice(run.index + run[0].length) || next;
      // Words of underscores one behind the other are one run.
      const last = runs.at(-1);
      if (last && last.unit === null && sameRow(last.box, line.box) && left - last.box[2] < 6) {
        runs[runs.length - 1] = {
          box: around([last.box, [left, line.box[1], word.box[2], line.box[3]]]),
          unit: null,
        };
        continue;
      }
      runs.push({
        box: [left, line.box[1], word.box[0] + to * width(word.box), line.box[3]],
        unit: UNIT.test(behind) ? behind.replace(/[.,;]$/, '') : null,
      });
    }
  }
  const wide = runs.filter((r) => width(r.box) >= 24);
  return stack(
    wide.map((r) => r.box),
    text,
    (box, i) => {
      const unit = wide[i]!.unit;
      // Typed words want a little more room above the line than its own letters have.
      const roomy: Box = [box[0], box[1] - 3, box[2], box[3] + 1];
      return { box: roomy, answer: unit ? { kind: 'number', unit } : { kind: 'line' } };
    },
  );
}

const sameRow = (a: Box, b: Box) => Math.abs((a[1] + a[3]) / 2 - (b[1] + b[3]) / 2) < 5;

/** Level rules with nothing written on them: one is a line, several at even distances are a paragraph. */
function ruledLines(text: PageText, shapes: PageShapes, size: PageSize): Candidate[] {
  const rules = shapes.rules
    .filter((r) => width(r) >= SHORTEST_RULE && width(r) < size.width * 0.97 && !isUnderline(r, text))
    .map((r): Box => [r[0], (r[1] + r[3]) / 2 - ONE_LINE, r[2], (r[1] + r[3]) / 2])
    // Not a frame's edge or a table's: nothing may be written where the answer would go, but the label left of it.
    .filter((b) => !text.words.some((w) => overlapShare(w.box, b) > 0.35 && w.box[3] < b[3] - 1));
  return stack(rules, text, (box) => ({ box, answer: { kind: 'line' } }));
}

/** A rule right under words is their underline, or a headline's. */
function isUnderline(rule: Box, text: PageText): boolean {
  const y = (rule[1] + rule[3]) / 2;
  return text.lines.some((line) => {
    const over = Math.min(line.box[2], rule[2]) - Math.max(line.box[0], rule[0]);
    return line.along === 'x' && y - line.box[3] > -4 && y - line.box[3] < 5 && over > 0.5 * width(rule);
  });
}

/** Whether words stand in the row of a line, right before or behind it: it answers those, and goes on no line above it. */
function hasNeighbour(line: Box, text: PageText): boolean {
  return text.words.some(
    (w) =>
      !BLANK.test(w.text) &&
      w.box[3] > line[3] - 12 &&
      w.box[1] < line[3] + 1 &&
      Math.max(line[0] - w.box[2], w.box[0] - line[2]) < 30 &&
      (w.box[2] <= line[0] + 2 || w.box[0] >= line[2] - 2),
  );
}

/**
 * Puts lines that lie evenly below each other together as paragraphs; `alone` says what a single one is. Short lines with words beside them, several in a row or
 * one below the other, are each their own.
 */
function stack(
  lines: readonly Box[],
  text: PageText,
  alone: (box: Box, index: number) => Candidate,
): Candidate[] {
  const standsAlone = (box: Box) => hasNeighbour(box, text);
  const order = lines
    .map((box, i) => ({ box, i }))
    .sort((a, b) => a.box[3] - b.box[3] || a.box[0] - b.box[0]);
  const used = new Set<number>();
  const out: Candidate[] = [];
  for (const [n, { box, i }] of order.entries()) {
    if (used.has(i)) continue;
    used.add(i);
    const group = [box];
    let gap: number | null = null;
    for (const next of order.slice(n + 1)) {
      const last = group.at(-1)!;
      const step = next.box[3] - last[3];
      if (used.has(next.i) || step < 8 || standsAlone(next.box)) continue;
      if (step > WIDEST_LEADING || (gap !== null && Math.abs(step - gap) > 3)) continue;
      if (Math.abs(next.box[0] - last[0]) > 4 || next.box[2] - last[0] < 0.4 * width(last)) continue;
      gap ??= step;
      group.push(next.box);
      used.add(next.i);
    }
    if (group.length === 1) {
      const one = alone(box, i);
      out.push({ ...one, box: tidy(one.box) });
    } else {
      const leading = gap!;
      const last = group.at(-1)!;
      const box: Box = [group[0]![0], group[0]![3] - leading, Math.max(...group.map((g) => g[2])), last[3]];
      out.push({ box: tidy(box), answer: { kind: 'paragraph', lines: group.length } });
    }
  }
  return out;
}

/** Rectangles with no words in them, the innermost of nested ones, not frames of the whole page. */
function emptyBoxes(text: PageText, shapes: PageShapes, size: PageSize): Candidate[] {
  const all = shapes.boxes.filter(
    (b) =>
      width(b) >= 24 &&
      height(b) >= 13 &&
      width(b) * height(b) < 0.7 * size.width * size.height &&
      !text.words.some((w) => overlapShare(w.box, b) > 0.5),
  );
  const inside = (a: Box, b: Box) =>
    a !== b && a[0] >= b[0] - 1 && a[1] >= b[1] - 1 && a[2] <= b[2] + 1 && a[3] <= b[3] + 1;
  const kept = all.filter((b, i) => !all.some((a, k) => inside(a, b) && !(inside(b, a) && k > i)));
  return withoutGrids(kept, shapes.boxes, text).map((box) => ({
    box: tidy(box),
    answer: boxAnswer(box, text),
  }));
}

/** Boxes of one size in a block, edge to edge: a map's squares or squared paper, not places for answers. Cells of a table are broader than high, and have others with words beside them. */
const GRID = 9;
const SQUARE = 1.4;

function withoutGrids(boxes: readonly Box[], all: readonly Box[], text: PageText): Box[] {
  const alike = (a: Box, b: Box) => Math.abs(width(a) - width(b)) < 2 && Math.abs(height(a) - height(b)) < 2;
  const headed = (b: Box) =>
    width(b) > SQUARE * height(b) &&
    all.some((o) => touches(o, b) && text.words.some((w) => overlapShare(w.box, o) > 0.5));
  const table = (b: Box, alikes: readonly Box[]) => alikes.some(headed) && width(b) > SQUARE * height(b);
  return boxes.filter((b) => {
    const alikes = boxes.filter((o) => alike(o, b));
    return alikes.length < GRID || table(b, alikes);
  });
}

/** Boxes with an edge in common, or a part of one. */
function touches(a: Box, b: Box): boolean {
  const [x, y] = [Math.max(a[0], b[0]) - Math.min(a[2], b[2]), Math.max(a[1], b[1]) - Math.min(a[3], b[3])];
  return a !== b && Math.max(x, y) < 4 && Math.min(x, y) < -6;
}

function boxAnswer(box: Box, text: PageText): AnswerKind {
  const above = linesAbove(box, text, 70).map((l) => wordsOf(l, text).join(' ').toLowerCase());
  if (above.some((t) => /\b(draw|sketch|plot|shade|colour in|label)\b/.test(t))) return { kind: 'drawing' };
  return height(box) >= 34 ? { kind: 'paragraph', lines: null } : { kind: 'line' };
}

/** Little squares with words behind them: one choice for each group of neighbours. */
function tickBoxes(text: PageText, shapes: PageShapes): Candidate[] {
  const squares = [
    ...shapes.boxes.filter(
      (b) => width(b) >= 5 && width(b) <= LARGEST_TICK && Math.abs(width(b) - height(b)) < 2.5,
    ),
    ...typedTicks(text),
  ].sort((a, b) => (sameRow(a, b) ? a[0] - b[0] : a[1] - b[1]));
  const ticks = squares.flatMap((box) => {
    const words = text.words.flatMap((w) => {
      if (!sameRow(w.box, box)) return [];
      const said = withoutTick(w);
      return said && said.box[0] >= box[2] - 1 ? [said] : [];
    });
    words.sort((a, b) => a.box[0] - b.box[0]);
    const label: typeof words = [];
    const nextTick = squares.find((s) => s !== box && sameRow(s, box) && s[0] > box[2]);
    for (const w of words) {
      if (nextTick && w.box[0] > nextTick[0]) break;
      if (w.box[0] - (label.at(-1)?.box[2] ?? box[2]) > 26) break;
      label.push(w);
    }
    if (label.length === 0) return [];
    return [
      {
        box: around([box, ...label.map((w) => w.box)]),
        option: label
          .map((w) => w.text)
          .join(' ')
          .slice(0, 200),
      },
    ];
  });
  const groups: (typeof ticks)[] = [];
  for (const tick of ticks) {
    const last = groups.at(-1);
    const near = last?.at(-1);
    if (near && tick.box[1] - near.box[3] < 24 && tick.box[1] >= near.box[1] - 3) last!.push(tick);
    else groups.push([tick]);
  }
  return groups
    .filter((g) => g.length >= 2 && g.length <= 20)
    .map((g) => ({
      box: tidy(around(g.map((t) => t.box))),
      answer: { kind: 'choice', options: [...new Set(g.map((t) => t.option))], several: false },
    }));
}

/** Boxes that are letters: ☐ and its like, also those of the fonts with which office programs write them. */
const TICK = /^[\u2610\u25a1\u25fb\u2b1c\u274f\u2750\u2751\u2752\uf06f\uf0a8\uf071\uf072]/u;

const typedTicks = (text: PageText): Box[] =>
  text.words.flatMap((w): Box[] => {
    if (!TICK.test(w.text)) return [];
    const share = 1 / [...w.text].length;
    return [[w.box[0], w.box[1], w.box[0] + share * width(w.box), w.box[3]]];
  });

/** A word without the box it begins with; null where nothing else is in it. */
function withoutTick(word: PageText['words'][number]): PageText['words'][number] | null {
  if (!TICK.test(word.text)) return word;
  const letters = [...word.text];
  if (letters.length === 1) return null;
  const from = word.box[0] + width(word.box) / letters.length;
  return { text: letters.slice(1).join(''), box: [from, word.box[1], word.box[2], word.box[3]] };
}

/**
 * A number that is printed once stands once: several places that belong to it, because no other number stands between, are its parts a, b, c, the first with its
 * points. Where letters of it are printed too, those without one are left to be numbered.
 */
function withoutRepeats(found: readonly FoundPlace[]): FoundPlace[] {
  const lettered = new Set(found.map((f) => /^(\d+)[a-z]$/i.exec(f.label ?? '')?.[1]));
  const out: FoundPlace[] = [];
  for (let i = 0; i < found.length; ) {
    const { label } = found[i]!;
    let to = i + 1;
    if (label !== null && /^\d+$/.test(label))
      while (to < found.length && (found[to]!.label === null || found[to]!.label === label)) to++;
    const parts = found.slice(i, to);
    for (const [k, place] of parts.entries())
      if (parts.length === 1) out.push(place);
      else if (lettered.has(label!)) out.push(k === 0 ? place : { ...place, label: null, points: null });
      else
        out.push({
          ...place,
          label: k < 26 ? `${label}${String.fromCharCode(97 + k)}` : null,
          points: k > 0 && place.points === parts[0]!.points ? null : place.points,
        });
    i = to;
  }
  return out;
}

const wordsOf = (line: Line, text: PageText) => text.words.slice(line.from, line.to).map((w) => w.text);

/** Lines whose bottom is at most `reach` above the box's top, nearest first; lines beside it count as well. */
function linesAbove(box: Box, text: PageText, reach: number): Line[] {
  return text.lines
    .filter((l) => l.along === 'x' && l.box[1] < box[1] + 6 && box[1] - l.box[3] < reach)
    .filter((l) => l.box[0] < box[2] && l.box[2] > box[0] - 120)
    .sort((a, b) => b.box[3] - a.box[3] || a.box[0] - b.box[0]);
}

/** A number at the head of a line: "2", "2.", "2)", "2 b)", "2b", "(b)", "Question 4". */
export function labelIn(words: readonly string[]): { number: number | null; letter: string } | null {
  const tokens = /^(question|task|exercise|aufgabe|no\.?|q)$/i.test(words[0] ?? '') ? words.slice(1) : words;
  const head = tokens.slice(0, 2).join(' ');
  const both =
    /^\(?(\d{1,2})\s*[.)]?\s*\(?([a-h])[.)]/i.exec(head) ??
    /^\(?(\d{1,2})([a-h])\b[.):]?/i.exec(tokens[0] ?? '');
  if (both) return { number: Number(both[1]), letter: both[2]!.toLowerCase() };
  const number = /^\(?Q?(\d{1,2})[.):]?$/.exec(tokens[0] ?? '');
  if (number) return { number: Number(number[1]), letter: '' };
  const letter = /^\(?([a-h])[.)]$/i.exec(tokens[0] ?? '');
  return letter ? { number: null, letter: letter[1]!.toLowerCase() } : null;
}

/** "(3 points)", "3 points", "[3]", "/ 3", "2½ pts" in a line; hundredths, or null. */
export function pointsIn(words: readonly string[]): number | null {
  const line = words.join(' ');
  const match =
    /(\d{1,3})([.,]\d{1,2})?\s*(½)?\s*(?:points?|pts?\.?|marks?)\b/i.exec(line) ??
    /\[\s*(\d{1,3})([.,]\d{1,2})?\s*(½)?\s*\]\s*$/.exec(line) ??
    /(?:^|\s)\/\s*(\d{1,3})([.,]\d{1,2})?\s*(½)?\s*\)?$/.exec(line);
  if (!match) return null;
  const decimals = (match[2] ?? '').slice(1).padEnd(2, '0') || '00';
  return Number(match[1]) * 100 + (match[3] ? 50 : Number(decimals));
}

/** The sign that stands right before a place in its row, "b)" or "(b)": a number without one is a part of a sentence. */
function labelRightBefore(box: Box, text: PageText): ReturnType<typeof labelIn> {
  const before = text.words
    .filter((w) => sameRow(w.box, box) && w.box[2] <= box[0] + 3 && box[0] - w.box[2] < 24)
    .sort((a, b) => b.box[2] - a.box[2])[0];
  return before && /^\(?\d{0,2}[a-h]?[.):]$/i.test(before.text) ? labelIn([before.text]) : null;
}

/** Gives every place the number and the points printed beside or above it, down from the place before. */
function readBeside(
  found: readonly (Candidate & { page: number })[],
  text: PageText,
  reach = 160,
): FoundPlace[] {
  let number: number | null = null;
  let before: Box | null = null;
  return found.map(({ page, box, answer }) => {
    const floor = before && !sameRow(before, box) ? before[3] - 4 : (before?.[1] ?? 0) - 30;
    const lines = linesAbove(box, text, reach).filter((l) => l.box[1] >= floor || overlaps(l.box, box));
    let label: string | null = null;
    let points: number | null = null;
    const right = labelRightBefore(box, text);
    for (const [i, line] of lines.entries()) {
      const words = wordsOf(line, text);
      points ??= pointsIn(words);
      const head = labelIn(words);
      // Of several places in one row each has its own sign before it; the row's first is not theirs.
      const read =
        right && sameRow(line.box, box) ? { ...right, number: right.number ?? head?.number ?? null } : head;
      if (!read) continue;
      // "b)" belongs to the number above it, as far as that stands below the place before.
      const above = lines.slice(i + 1).map((l) => labelIn(wordsOf(l, text))?.number ?? null);
      number = read.number ?? above.find((n) => n !== null) ?? number;
      if (number !== null || read.letter === '') label = `${number ?? ''}${read.letter}` || null;
      // The points may stand on the same row as the number, in a line of their own at the right edge.
      points ??=
        text.lines
          .filter((l) => sameRow(l.box, line.box))
          .map((l) => pointsIn(wordsOf(l, text)))
          .find((p) => p !== null) ?? null;
      break;
    }
    before = box;
    return { page, box, answer, label, points };
  });
}
