import {
  type FavouriteKey,
  type HandInId,
  type Mark,
  type Person,
  type PhraseId,
  plainPhrase,
} from '@jotmark/core';
import { type House, keepPhrases, newId, usePhrase } from '@jotmark/server';
import { saidBesideAnswers } from './marks.ts';

const GROUPS: Readonly<Record<string, string>> = {
  'Signs and squares': 'Reading maps',
  'Finding your way on Hollin Island': 'Finding the way',
};

/** What this teacher keeps besides: for any class, with blanks that are filled at the desk. */
const BESIDES: readonly (readonly [group: string, focus: string | null, words: string])[] = [
  ['Reading maps', 'accuracy', 'Six figures need tenths: divide the square in your mind.'],
  ['Reading maps', 'method', 'Count the squares again: is [words] left or right of the line?'],
  ['Measuring', 'method', 'Say how many lines, and how far apart.'],
  ['Measuring', 'accuracy', 'Bearings have three figures: 045°, not 45°.'],
  ['Measuring', 'accuracy', 'Which unit? A number alone is no distance.'],
  ['Measuring', 'method', 'Measure along the path, not as the crow flies.'],
  [
    'Measuring',
    'method',
    'Halfway between two bearings: $\\frac{a + b}{2}$. Try it with yours in [question].',
  ],
  ['Arguing', 'method', 'Which way does the slope face? Look at the numbers on the lines.'],
  ['Arguing', 'method', 'You say that it is so. What on the map shows it?'],
  ['Arguing', 'method', 'And the other side? Somebody could choose the north path: why not you?'],
  ['Wording', 'wording', 'One sentence, one thought: where would you put the full stop?'],
  ['Wording', 'wording', 'Say [words] in the words of somebody who stands there.'],
  [
    'Praise that says why',
    'well put',
    '[name], you turned the map before you read it. That is what walkers do.',
  ],
  ['Praise that says why', 'well put', 'I could walk by this.'],
  ['', null, 'Come to me with the map tomorrow, [name]: we look at it together.'],
];

/** What is used every evening has a key of its own. */
const FAVOURITES: Readonly<Record<string, FavouriteKey>> = {
  'Along first, then up: you have swapped them.': '1',
  'Count the squares again: is [words] left or right of the line?': '2',
  'Which unit? A number alone is no distance.': '3',
};

/** The bank of the demo's teacher; gives how to count what was taken from it for a copy. */
export async function fillBank(
  house: House,
  teacher: Person,
): Promise<(handInId: HandInId, marks: readonly Mark[]) => Promise<void>> {
  const said = saidBesideAnswers().map(
    ({ sheet, words, focus }) => [GROUPS[sheet] ?? '', focus, words] as const,
  );
  const phrases = [...said, ...BESIDES]
    .filter(([, , words], i, all) => all.findIndex(([, , other]) => other === words) === i)
    .map(([group, focus, words]) =>
      plainPhrase(newId<PhraseId>(house), words, {
        group,
        focus,
        key: FAVOURITES[words] ?? null,
        ...(focus === 'well put' && { colour: 'moss' as const }),
      }),
    );
  await keepPhrases(house, teacher, phrases);
  const byWords = new Map(phrases.map((p) => [p.words, p.id]));
  return async (handInId, marks) => {
    for (const mark of marks) {
      const id = mark.kind === 'note' ? byWords.get(mark.words) : undefined;
      if (id) await usePhrase(house, teacher, id, handInId, { markId: mark.id, questionId: null });
    }
  };
}
