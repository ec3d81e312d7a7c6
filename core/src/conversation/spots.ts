import type { Message } from '../contract/message.ts';
import type { FilledIn } from '../contract/shapes.ts';
import type { DocumentId } from '../ids/id.ts';

/** A spot of a page and what was said there, oldest first. */
export interface SaidSpot {
  readonly document: DocumentId;
  readonly page: number;
  readonly x: number;
  readonly y: number;
  /** What the student noted there, on their own copy. Left out: nothing. */
  readonly note?: string;
  readonly messages: readonly Message[];
}

/** Words said closer to each other than this, in points, are said at one spot. */
export const SPOT_REACH = 14;

/**
 * What was said at places while work went on, by its spots. A worksheet that was filled in is shown by another document once it is handed in: words said
 * on its pages stand at the same points of that. What its student noted on it is there first, and what was said of it with it. Words about a mark stand at the mark, and what was only done with words said before is no word.
 */
export function spotsOf(messages: readonly Message[], filled: readonly FilledIn[]): SaidSpot[] {
  const shownBy = new Map(filled.map((f) => [f.from, f.document]));
  const spots: SaidSpot[] = filled.flatMap(({ document, notes }) =>
    notes.map(({ page, x, y, words }) => ({ document, page, x, y, note: words, messages: [] })),
  );
  for (const message of messages) {
    const { place } = message;
    if (!place || place.mark || (message.act && message.words === '')) continue;
    const document = shownBy.get(place.document) ?? place.document;
    const { page, x, y } = place;
    const at = spots.findIndex(
      (s) => s.document === document && s.page === page && Math.hypot(s.x - x, s.y - y) <= SPOT_REACH,
    );
    if (at < 0) spots.push({ document, page, x, y, messages: [message] });
    else spots[at] = { ...spots[at]!, messages: [...spots[at]!.messages, message] };
  }
  return spots;
}
