import {
  foldToFit,
  type Phrase,
  type PhraseId,
  PhraseIndex,
  packMargin,
  plainPhrase,
  smallestEdits,
} from '@jotmark/core';
import { atMost, type Figure, median } from './figures.ts';
import { id } from './school.ts';

const PHRASES = 5000;
const WORDS =
  'count the squares again along first then up you have swapped them measure path crow flies which way does slope face numbers lines bearing three figures unit north south evidence compare both sides decide argued reason rule happen otherwise grid reference tenths divide mind scale ruler point hut light top height metres between'.split(
    ' ',
  );

/** A key typed into a comment while five thousand phrases are looked through: sentences typed letter by letter, with slips. */
async function ghostFigures(next: Next): Promise<Figure[]> {
  const phrases = Array.from({ length: PHRASES }, (_, i): Phrase => {
    const words = Array.from({ length: 5 + next(12) }, () => WORDS[next(WORDS.length)]!).join(' ');
    return {
      ...plainPhrase(id<PhraseId>(), `${words} ${i}`),
      uses: next(60),
      usedAt: null,
      asked: [],
    };
  });
  const index = new PhraseIndex(phrases);
  const taken: number[] = [];
  for (const sentence of ['count the sqaures agian', 'which way doez the slope', 'evidence for both sides']) {
    for (let round = 0; round < 5; round++)
      for (let n = 1; n <= sentence.length; n++) {
        const start = performance.now();
        index.find(sentence.slice(0, n), { focus: 'method', now: 1_790_000_000_000 }, 5);
        // The first round is the engine's to warm up.
        if (round > 0) taken.push(performance.now() - start);
      }
  }
  const slow = taken.toSorted((a, b) => a - b)[Math.floor(taken.length * 0.95)]!;
  return [
    atMost(`ghost phrases among ${PHRASES}, a key`, median(taken), 8),
    atMost('the same, the slowest of twenty keys', slow, 8),
  ];
}

const NOTES = 300;
const ANSWER = 2000;

/** Notes of very different heights that want to stand close together, as on a page that is full from top to bottom: folded to fit, and packed. */
function marginFigures(next: Next): Figure[] {
  const taken = Array.from({ length: 30 }, () => {
    const notes = Array.from({ length: NOTES }, () => ({ want: next(4000), height: 22 + next(120) }));
    notes.sort((a, b) => a.want - b.want);
    const start = performance.now();
    const fold = foldToFit(
      notes.map((n) => n.height),
      notes.map(() => false),
      22,
      9200,
      8,
    );
    packMargin(
      notes.map((n, i) => ({ want: n.want, height: fold.has(i) ? 22 : n.height })),
      9200,
      8,
    );
    return performance.now() - start;
  });
  return [atMost(`a margin of ${NOTES} notes, folded and packed`, median(taken.slice(5)), 4)];
}

/** A long answer and what a teacher made of it: a word here and there, and another answer altogether. */
function editFigures(next: Next): Figure[] {
  const word = () => WORDS[next(WORDS.length)]!;
  const answer = Array.from({ length: ANSWER }, word);
  const rewritten = answer.flatMap((w) => (next(20) > 0 ? [w] : next(2) ? [word(), word()] : []));
  const other = Array.from({ length: ANSWER }, word);
  const median20 = (after: readonly string[]) =>
    median(
      Array.from({ length: 20 }, () => {
        const start = performance.now();
        smallestEdits(answer, after);
        return performance.now() - start;
      }),
    );
  return [
    atMost(`changes in an answer of ${ANSWER} words, every twentieth word another`, median20(rewritten), 20),
    atMost('the same, written wholly anew', median20(other), 20),
  ];
}

type Next = (most: number) => number;

export async function wordFigures(): Promise<Figure[]> {
  let seed = 7;
  const next: Next = (most) => {
    seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648;
    return seed % most;
  };
  return [...(await ghostFigures(next)), ...marginFigures(next), ...editFigures(next)];
}
