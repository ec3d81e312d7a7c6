import type { Measure } from '../answers/fit.ts';
import type { Formula } from '../formula/formula.ts';
import { formulaAt, readWords, type WordsPart } from './words.ts';

/** A formula that can be drawn. */
export type DrawnFormula = Extract<Formula, { ok: true }>;
/** What draws formulas; null: none are drawn here, or not yet. */
export type DrawFormulas = ((tex: string) => Formula) | null;

/**
 * Words ready to be set in rows. One private letter stands for each formula and two switch bold and italic, so that what breaks rows and fits
 * boxes measures letters and need not know of any of it.
 */
export interface SetWords {
  readonly text: string;
  readonly formulas: readonly { readonly tex: string; readonly drawn: DrawnFormula }[];
}

const BOLD = '\ue400';
const ITALIC = '\ue401';
const LINK = '\ue402';
const NOTED = '\ue403';
const FIRST = 0xe410;
const MOST = 300;
const PRIVATE = /[\ue400-\ue5ff]/g;
const HAS_PRIVATE = /[\ue400-\ue5ff]/;

/** Rows stay as far apart as they are without formulas: one that is higher than this, in em, is drawn smaller. */
const HIGHEST = 1.24;

const scaleOf = ({ above, below }: DrawnFormula): number => Math.min(1, HIGHEST / (above + below));

function formulasOf(draw: DrawFormulas) {
  const formulas: { tex: string; drawn: DrawnFormula }[] = [];
  /** The letter for a formula; what cannot be drawn stays as it was typed. */
  const letter = (tex: string): string => {
    const drawn = formulas.length < MOST ? draw?.(tex) : null;
    if (!drawn?.ok) return `$${tex}$`;
    formulas.push({ tex, drawn });
    return String.fromCharCode(FIRST + formulas.length - 1);
  };
  return { formulas, letter };
}

/** A typed answer: only its formulas have a form, all else is as it was typed. */
export function setFormulas(words: string, draw: DrawFormulas): SetWords {
  const { formulas, letter } = formulasOf(draw);
  return { text: lettered(words, letter), formulas };
}

/** The words with a letter in the place of each formula. */
function lettered(words: string, letter: (tex: string) => string): string {
  const plain = words.replace(PRIVATE, '\ufffd');
  if (!plain.includes('$')) return plain;
  let text = '';
  for (let i = 0; i < plain.length; ) {
    const found = plain[i] === '$' ? formulaAt(plain, i) : null;
    text += found ? letter(found.tex) : plain[i];
    i += found ? found.length : 1;
  }
  return text;
}

/** Runs of words that each have a form, one behind the other; formulas are found within a run. */
export function setRuns(
  runs: readonly {
    readonly text: string;
    readonly bold?: boolean | undefined;
    readonly italic?: boolean | undefined;
    readonly href?: string | undefined;
    readonly note?: string | undefined;
  }[],
  draw: DrawFormulas,
): SetWords {
  const { formulas, letter } = formulasOf(draw);
  let text = '';
  for (const run of runs) {
    const signs =
      (run.bold ? BOLD : '') + (run.italic ? ITALIC : '') + (run.href ? LINK : '') + (run.note ? NOTED : '');
    text += signs + lettered(run.text, letter) + signs;
  }
  return { text, formulas };
}

/** One line or one item of a list, to be broken into rows by itself. */
export interface SetLine {
  readonly text: string;
  /** What stands before it; null: no item of a list. */
  readonly before: string | null;
}

/** Words with their light form, line by line. Links and files are their titles. */
export function setLines(
  words: string,
  draw: DrawFormulas,
): { readonly lines: readonly SetLine[]; readonly formulas: SetWords['formulas'] } {
  const { formulas, letter } = formulasOf(draw);
  const set = (parts: readonly WordsPart[]): string =>
    parts
      .map((part) => {
        switch (part.as) {
          case 'text':
            return part.text;
          case 'formula':
            return letter(part.tex);
          case 'bold':
            return `${BOLD}${set(part.parts)}${BOLD}`;
          case 'italic':
            return `${ITALIC}${set(part.parts)}${ITALIC}`;
          default:
            return part.title;
        }
      })
      .join('');
  const lines = readWords(words.replace(PRIVATE, '\ufffd')).flatMap((block): SetLine[] =>
    block.as === 'line'
      ? [{ text: set(block.parts), before: null }]
      : block.items.map((item, i) => ({ text: set(item), before: block.numbered ? `${i + 1}.` : '•' })),
  );
  return { lines, formulas };
}

/** The width of set words at a size, in the unit of the size. */
export function measureSet({ formulas }: Pick<SetWords, 'formulas'>, measure: Measure): Measure {
  return (text, size) => {
    if (!HAS_PRIVATE.test(text)) return measure(text, size);
    let width = measure(text.replace(PRIVATE, ''), size);
    for (const letter of text.match(PRIVATE) ?? []) {
      const formula = formulas[letter.charCodeAt(0) - FIRST];
      if (formula) width += formula.drawn.width * scaleOf(formula.drawn) * size;
    }
    return width;
  };
}

/** What is drawn in one go. `x` is from the row's beginning, in the unit of the size. */
export type SetPiece =
  | {
      readonly as: 'text';
      readonly x: number;
      readonly text: string;
      readonly bold: boolean;
      readonly italic: boolean;
      /** It leads somewhere, and is shown so. */
      readonly link?: true;
      /** Something is noted about it: the how manieth run with a note it is, counted from 0. */
      readonly noted?: number;
    }
  | {
      readonly as: 'formula';
      readonly x: number;
      readonly width: number;
      readonly tex: string;
      readonly drawn: DrawnFormula;
      /** Of the letters round it, in the unit of the size: with this an em of the formula is drawn. */
      readonly size: number;
    };

/** Rows of set words as pieces, in their order: bold that begins in one row goes on in the next. */
export function piecesIn(
  rows: readonly string[],
  set: Pick<SetWords, 'formulas'>,
  measure: Measure,
  size: number,
): SetPiece[][] {
  let bold = false;
  let italic = false;
  let link = false;
  let noted = false;
  let notes = -1;
  return rows.map((row) => {
    const out: SetPiece[] = [];
    let x = 0;
    for (const part of row.split(/([\ue400-\ue5ff])/)) {
      if (part === '') continue;
      const formula = set.formulas[part.charCodeAt(0) - FIRST];
      if (part === BOLD) bold = !bold;
      else if (part === ITALIC) italic = !italic;
      else if (part === LINK) link = !link;
      else if (part === NOTED) {
        noted = !noted;
        if (noted) notes++;
      } else if (formula) {
        const em = scaleOf(formula.drawn) * size;
        const width = formula.drawn.width * em;
        out.push({ as: 'formula', x, width, ...formula, size: em });
        x += width;
      } else {
        out.push({
          as: 'text',
          x,
          text: part,
          bold,
          italic,
          ...(link && { link }),
          ...(noted && { noted: notes }),
        });
        x += measure(part, size);
      }
    }
    return out;
  });
}
