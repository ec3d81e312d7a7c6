import { formatSigned, type Mark, plainWords, recordingOf, spokenWords } from '@jotmark/core';

/** What a mark says in readers that know no form: its words without signs, what is earned with it, why something is suggested; of a note that is only spoken what is said. `read` otherwise: with the signs of their form. */
export function contentsOf(mark: Mark, read: (words: string) => string = plainWords): string {
  const more = [
    'reason' in mark && mark.reason ? `(${read(mark.reason)})` : '',
    mark.kind === 'note' && mark.points !== undefined ? `(${formatSigned(mark.points)})` : '',
  ].filter(Boolean);
  const said = mark.kind === 'cut' ? mark.place.quote.exact : 'words' in mark ? read(mark.words) : '';
  const spoken = recordingOf(mark);
  return [said || (spoken ? read(spokenWords(spoken)) : ''), ...more].filter(Boolean).join('\n');
}
