import { type Phrase, type PhraseId, PhraseIndex, plainPhrase } from '@jotmark/core';
import { type Figure, median } from './figures.ts';
import { id } from './school.ts';

const PHRASES = 5000;
const WORDS =
  'count the squares again along first then up you have swapped them measure path crow flies which way does slope face numbers lines bearing three figures unit north south evidence compare both sides decide argued reason rule happen otherwise grid reference tenths divide mind scale ruler point hut light top height metres between'.split(
    ' ',
  );

/** A key typed into a comment while five thousand phrases are looked through: sentences typed letter by letter, with slips. */
export async function bankFigures(): Promise<Figure[]> {
  let seed = 7;
  const next = (most: number) => {
    seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648;
    return seed % most;
  };
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
  const figure = (what: string, ours: number): Figure => ({
    what,
    ours,
    baseline: null,
    against: '',
    limit: 8,
  });
  return [
    figure(`ghost phrases among ${PHRASES}, a key`, median(taken)),
    figure('the same, the slowest of twenty keys', slow),
  ];
}
