import bidiFactory, { type Bidi } from 'bidi-js';

const RIGHT_TO_LEFT = /[\p{Script=Hebrew}\p{Script=Arabic}\p{Script=Syriac}\p{Script=Thaana}\p{Script=Nko}]/u;

// Its types name the module where it gives a function.
const engine = (bidiFactory as unknown as () => Bidi)();

/** Whether a text has letters that run from right to left. */
export const runsLeft = (text: string): boolean => RIGHT_TO_LEFT.test(text);

/** Whether a text as a whole is read from right to left: its first letter with a direction says so (UAX 9, rules P2 and P3). */
export const readsLeft = (text: string): boolean =>
  runsLeft(text) && engine.getEmbeddingLevels(text).paragraphs[0]?.level === 1;

/** A letter, and what writes it. */
export interface FacedLetter<F> {
  readonly letter: string;
  readonly face: F;
}

/** A stretch written by one face. */
export interface Stretch<F> {
  readonly text: string;
  readonly face: F;
}

/**
 * The letters of a row as stretches, in the order in which they stand on the page from left to right (UAX 9, rule L2), with brackets mirrored (L4). A font lays
 * out letters of a script that runs left by itself, from right to left: signs that stand alone among them are turned here, and digits of such a script are
 * turned twice.
 */
export function asShown<F>(letters: readonly FacedLetter<F>[]): Stretch<F>[] {
  const text = letters.map((l) => l.letter).join('');
  const directed = runsLeft(text);
  const levels = directed ? engine.getEmbeddingLevels(text).levels : null;
  const cut: { text: string; face: F; level: number }[] = [];
  let at = 0;
  for (const { letter, face } of letters) {
    const level = levels?.[at] ?? 0;
    const shown = level % 2 === 1 ? (engine.getMirroredCharacter(letter) ?? letter) : letter;
    const last = cut.at(-1);
    if (last?.face === face && last.level === level) last.text += shown;
    else cut.push({ text: shown, face, level });
    at += letter.length;
  }
  if (!directed) return cut;
  for (let level = Math.max(...cut.map((s) => s.level)); level > 0; level--)
    for (let from = 0; from < cut.length; from++) {
      let to = from;
      while (to < cut.length && cut[to]!.level >= level) to++;
      cut.splice(from, to - from, ...cut.slice(from, to).reverse());
      from = Math.max(from, to);
    }
  return cut.map(({ text: run, face, level }) => ({
    face,
    text: (level % 2 === 1) === runsLeft(run) ? run : [...run].reverse().join(''),
  }));
}
