import { type CopyId, type Pile, withWrites } from '@jotmark/core';
import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useEffect, useLayoutEffect } from 'react';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { keepText, placeOfCover, placeOfWords } from './kept-text.ts';
import { outbox } from './outbox.ts';
import type { OutboxNews } from './outbox-news.ts';

/** The outbox of whoever is signed in, wherever they are in the app: it goes on sending what waits, and what became of it is shown. */
export function OutboxLine() {
  const { session } = useHere();
  const client = useQueryClient();
  const personId = session.person?.id ?? null;
  const student = session.person?.role === 'student';
  // Before any view asks for a keeper.
  useLayoutEffect(() => {
    if (!personId) return outbox.end();
    outbox.begin(personId, student);
  }, [personId, student]);
  useEffect(() => {
    const begun = new Set<string>();
    return outbox.hear((news) => take(client, news, begun));
  }, [client]);
  useEffect(() => {
    window.addEventListener('online', outbox.retryNow);
    window.addEventListener('pagehide', outbox.leave);
    window.addEventListener('storage', outbox.heir);
    return () => {
      window.removeEventListener('online', outbox.retryNow);
      window.removeEventListener('pagehide', outbox.leave);
      window.removeEventListener('storage', outbox.heir);
    };
  }, []);
  return null;
}

function take(client: QueryClient, news: OutboxNews, begun: Set<string>): void {
  switch (news.of) {
    case 'written':
      return written(client, news, begun);
    case 'aside':
      toast.error(
        news.clash.why === 'conflict'
          ? 'A copy was changed elsewhere meanwhile. Here is the newest; what you did waits with that copy: open it and choose.'
          : 'Something you did could not be taken. It waits with its copy: open it and choose.',
      );
      return tell(client, 'slipWritten', { copyId: null });
    case 'handed-in':
      client.setQueryData(keys.work(news.copyId), news.work);
      // Until now it stood in its field, for a hand-in that is refused.
      keepText(placeOfCover(news.personId, news.copyId), '');
      if (news.waited) toast.success('What you handed in without a network has arrived.');
      return tell(client, 'handedIn', { copyId: news.copyId });
    case 'hand-in-refused':
      toast.error(sentenceOf(news.error));
      return tell(client, 'copyChanged', { copyId: news.copyId });
    case 'said':
      client.setQueryData(keys.messages(news.copyId), news.conversation);
      return;
    case 'opened':
      return news.closed === 0 ? tell(client, 'copyOpened', {}) : undefined;
    case 'bank':
      client.setQueryData(keys.bank, news.bank);
      return;
    case 'phrase-refused':
      toast.error(`“${news.words}” is not in your bank. ${sentenceOf(news.error)}`);
      return tell(client, 'bankChanged', {});
    case 'word-refused':
      // The words stand in their field again.
      keepText(placeOfWords(news.personId, news.copyId), news.letter.words);
      toast.error(`Your words could not be sent; they are back in their field. ${sentenceOf(news.error)}`);
      return;
  }
}

/** What the pile shows of a copy is shown at once: whether it was begun, its grade, whether it is marked. Heard also after the desk was left. */
function written(
  client: QueryClient,
  { sheetId, changes, open }: OutboxNews & { of: 'written' },
  begun: Set<string>,
): void {
  const slip = changes.some((c) => c.type === 'write');
  if (changes.length === 0 || (begun.has(sheetId) && !slip)) return;
  begun.add(sheetId);
  let copyId: CopyId | null = null;
  client.setQueriesData<Pile>({ queryKey: keys.pile() }, (pile) => {
    const row = pile?.rows.find((r) => r.handInId === sheetId);
    if (!pile || !row || !slip) return pile;
    copyId = row.copyId;
    return { ...pile, rows: pile.rows.map((r) => (r === row ? withWrites(r, changes) : r)) };
  });
  tell(client, 'slipWritten', { copyId: open ? null : copyId });
}
