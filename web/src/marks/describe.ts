import {
  clockOf,
  formatPoints,
  isClip,
  type MarginMark,
  type Mark,
  type MarkKind,
  type NoteMark,
  never,
  spokenWords,
  stampName,
} from '@jotmark/core';

/** What kinds of marks are called. */
export const KIND_WORDS: Readonly<Record<MarkKind | 'voice', string>> = {
  voice: 'voice notes and clips',
  ink: 'pen strokes',
  highlight: 'highlights',
  note: 'notes',
  line: 'lines',
  arrow: 'arrows',
  box: 'boxes',
  ring: 'rings',
  text: 'words on the page',
  stamp: 'stamps',
  cut: 'cuts',
  add: 'additions',
  swap: 'swaps',
  foreign: 'from other programs',
  unread: 'cannot be read here',
};

/** What stands in the margin is called so by those who do not see its shape. */
export const MARGIN_NAMES: Readonly<Record<MarginMark['kind'], string>> = {
  note: 'Note',
  cut: 'Cut',
  add: 'Addition',
  swap: 'Swap',
};

const shorten = (text: string) => (text.length > 40 ? `${text.slice(0, 38)}…` : text);

const noteWords = ({ place, voice }: NoteMark): string => {
  const what = voice ? (isClip(voice) ? 'clip' : 'voice note') : 'note';
  if (place.on === 'passage') return `${what} on “${shorten(place.quote.exact)}”: `;
  return place.on === 'moment' ? `${what} at ${clockOf(place.at)}: ` : `${what}: `;
};

/** What a note says: typed, or else spoken. */
const saidIn = ({ words, voice }: NoteMark): string =>
  words || (voice && (spokenWords(voice) || clockOf(voice.ms))) || '';

/** The mark in a few words: for lists, for search, and for those who do not see the page. */
export function describeMark(mark: Mark): string {
  switch (mark.kind) {
    case 'ink':
      return 'pen stroke';
    case 'highlight':
      return mark.place.on === 'passage'
        ? `highlight on “${shorten(mark.place.quote.exact)}”`
        : 'free highlight';
    case 'note':
      return `${noteWords(mark)}${saidIn(mark)}`;
    case 'line':
    case 'arrow':
    case 'box':
    case 'ring':
      return mark.kind;
    case 'text':
      return `on the page: ${mark.words}`;
    case 'stamp':
      return [
        stampName(mark.look),
        mark.points !== null && formatPoints(mark.points),
        mark.moment !== undefined && `at ${clockOf(mark.moment)}`,
      ]
        .filter(Boolean)
        .join(', ');
    case 'cut':
      return `cut “${shorten(mark.place.quote.exact)}”`;
    case 'add':
      return `add “${mark.words}” ${mark.place.side} “${shorten(mark.place.quote.exact)}”`;
    case 'swap':
      return `“${shorten(mark.place.quote.exact)}” → “${mark.words}”`;
    case 'foreign':
      return `from another program: ${mark.what}${mark.said ? `, “${shorten(mark.said)}”` : ''}`;
    case 'unread':
      return 'a mark that this version of Jotmark cannot read; it is kept as it is';
    default:
      return never(mark);
  }
}
