import { type Desk, isWorded, type MarkId, type PersonId } from '@jotmark/core';
import { useCallback } from 'react';
import { putChange } from '../outbox/changes.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useDraft } from '../outbox/useDraft.ts';
import { withWords } from '../picked/useShownMarks.ts';

/** Words while they are typed at the desk, of notes and of the slip: kept with the very key, by whom they are. */
export function useTyping(desk: Desk, keeper: SheetKeeper, me: PersonId) {
  const putWords = useCallback(
    (noteId: MarkId, words: string) => {
      const now = keeper.view.sheet.marks.get(noteId)?.value;
      if (!now || !isWorded(now) || now.words === words) return;
      keeper.do([putChange(keeper, withWords(now, words), now)], `words:${noteId}`);
    },
    [keeper],
  );
  const putClosing = useCallback(
    (_: 'closing', words: string) => keeper.write('closing', words, 'closing'),
    [keeper],
  );
  const written = useCallback(() => keeper.written(), [keeper]);
  const own = `${me}.${desk.handIn.id}`;
  const note = useDraft<MarkId>({ place: `jotmark.note.${own}`, commit: putWords, written });
  const closing = useDraft<'closing'>({ place: `jotmark.closing.${own}`, commit: putClosing, written });
  return { note, closing, typing: note.draft !== null || closing.draft !== null };
}
