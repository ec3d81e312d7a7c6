import { type Hundredths, parsePoints } from '../points/points.ts';

const NUMBER = String.raw`(?:\d+(?:[.,]\d+)?[½¼¾]?|[½¼¾])`;
const POINTS = String.raw`(?:points?|pts?\.?|p\.?)`;

/** What a head or a cell says: its points, if it has some, and what is left of its words. */
export interface SaidInCell {
  readonly words: string;
  readonly points: Hundredths | null;
}

const read = (text: string): Hundredths | null => {
  const found = parsePoints(text);
  return found.ok ? found.value : null;
};

const HEADS = [
  new RegExp(String.raw`^(?<words>.*?)[\s:–—-]*\(\s*(?<points>${NUMBER})\s*${POINTS}?\s*\)$`, 'is'),
  new RegExp(String.raw`^(?<points>${NUMBER})\s*${POINTS}?$`, 'i'),
  new RegExp(String.raw`^(?<points>${NUMBER})\s*${POINTS}?\s*[-–—:=.)]\s+(?<words>\S.*)$`, 'is'),
  new RegExp(String.raw`^(?<words>.*\S)\s*[-–—:=,]\s*(?<points>${NUMBER})\s*${POINTS}?$`, 'is'),
  new RegExp(String.raw`^(?<words>.*\S)\s+(?<points>${NUMBER})\s*${POINTS}$`, 'is'),
];

/** "Can (3)", "3", "3 points", "3 – Can", "Can: 3": the head of a level. */
export function readHead(text: string): SaidInCell {
  return firstOf(HEADS, text) ?? { words: text.trim(), points: null };
}

const CELLS = [
  new RegExp(String.raw`^\(?\s*(?<points>${NUMBER})\s*${POINTS}?\s*\)?\s*[-–—:=]\s+(?<words>\S.*)$`, 'is'),
  new RegExp(String.raw`^\(\s*(?<points>${NUMBER})\s*${POINTS}?\s*\)\s*(?<words>\S.*)$`, 'is'),
  new RegExp(String.raw`^(?<words>.*\S)\s*\(\s*(?<points>${NUMBER})\s*${POINTS}?\s*\)\.?$`, 'is'),
  new RegExp(String.raw`^(?<points>${NUMBER})\s*${POINTS}?$`, 'i'),
];

/** "3: Names lines", "(3) Names lines", "Names lines (3)": a descriptor with its points. */
export function readCell(text: string): SaidInCell {
  return firstOf(CELLS, text) ?? { words: text.trim(), points: null };
}

const OWN = new RegExp(
  String.raw`^(?<name>[^():\n]{0,100}?)\s*\((?<points>${NUMBER})\)(?::\s*(?<words>.*))?$`,
  's',
);

/** "Can (3): Names lines", as rubrics whose levels differ by criterion are written out. Null: it is not written so. */
export function readOwnLevel(text: string): { name: string; points: Hundredths; words: string } | null {
  const found = OWN.exec(text.trim());
  const points = found && read(found.groups!.points!);
  return points === null || !found
    ? null
    : { name: found.groups!.name!.trim(), points, words: found.groups!.words?.trim() ?? '' };
}

function firstOf(patterns: readonly RegExp[], text: string): SaidInCell | null {
  for (const pattern of patterns) {
    const groups = pattern.exec(text.trim())?.groups;
    const points = groups && read(groups.points!);
    if (points !== null && points !== undefined) return { words: groups!.words?.trim() ?? '', points };
  }
  return null;
}

/** "× 3", "x2", "1.5", "30 %", "2 times": a weight in hundredths; a percentage counts as its number. Null: it is none. */
export function readWeight(text: string): number | null {
  const found = new RegExp(String.raw`^[×x*]?\s*(${NUMBER})\s*(%|×|x|times)?$`, 'i').exec(text.trim());
  const value = found && read(found[1]!);
  return value !== null && value !== undefined && value <= 10_000 ? value : null;
}

/** Numbers as words, which no sum can be made of: "three". */
export const isNumberWord = (text: string): boolean =>
  /^(zero|half|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve)( points?)?$/i.test(
    text.trim(),
  );

/** A cell's name in a spreadsheet: column letters and row, both counted from 0: (3, 1) is D2. */
export function cellName(column: number, row: number): string {
  let name = '';
  for (let n = column + 1; n > 0; n = Math.floor((n - 1) / 26))
    name = String.fromCharCode(65 + ((n - 1) % 26)) + name;
  return `${name}${row + 1}`;
}
