import type { MarkId } from '../ids/id.ts';
import { isMarginMark, type MarginMark, type Mark, recordingOf } from '../marks/mark.ts';
import { spokenWords } from '../voice/recording.ts';
import { plainWords } from '../words/words.ts';
import type { BecameLine, BecameOf } from './became.ts';

/** The longest line that a note becomes. */
const MOST = 200;

/** What a note or a suggestion says, in one line. */
export function lineOf(mark: MarginMark): string {
  const quoted = mark.place.on === 'passage' || mark.place.on === 'caret' ? mark.place.quote.exact : '';
  switch (mark.kind) {
    case 'note': {
      const recording = recordingOf(mark);
      return (plainWords(mark.words) || (recording ? spokenWords(recording) : '') || 'a voice note').slice(
        0,
        MOST,
      );
    }
    case 'cut':
      return `leave out “${quoted}”`.slice(0, MOST);
    case 'add':
      return `add “${plainWords(mark.words)}”`.slice(0, MOST);
    case 'swap':
      return `“${quoted}” → “${plainWords(mark.words)}”`.slice(0, MOST);
  }
}

/** What became of the notes of the hand-in before, as its student gets it: what the teacher said of each, and those that stand on the new hand-in again. */
export function becameLines(
  before: readonly Mark[],
  now: readonly Mark[],
  said: BecameOf | null,
): BecameLine[] {
  const again = new Set<MarkId>(now.map((m) => m.id));
  return before.filter(isMarginMark).flatMap((mark): BecameLine[] => {
    const verdict = again.has(mark.id) ? 'again' : said?.[mark.id];
    return verdict && verdict !== 'let-go' ? [{ mark: mark.id, words: lineOf(mark), verdict }] : [];
  });
}
