import { formatSigned, type Mark, plainWords } from '@jotmark/core';

/** What a mark says in readers that know no form: its words without signs, what is earned with it, why something is suggested. */
export function contentsOf(mark: Mark): string {
  const more = [
    'reason' in mark && mark.reason ? `(${plainWords(mark.reason)})` : '',
    mark.kind === 'note' && mark.points !== undefined ? `(${formatSigned(mark.points)})` : '',
  ].filter(Boolean);
  const said = mark.kind === 'cut' ? mark.place.quote.exact : 'words' in mark ? plainWords(mark.words) : '';
  return [said, ...more].filter(Boolean).join('\n');
}
