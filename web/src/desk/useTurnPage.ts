import { type DocumentId, type DocumentPages, quarterTurn, type Turns } from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import type { ShownPage } from '../paper/page-list.ts';

/** Turns a page by a quarter for good, without touching its bytes: shown at once, taken back if the server cannot keep it. */
export function useTurnPage(turnsOf: (id: DocumentId) => Turns): (page: ShownPage | undefined) => void {
  const client = useQueryClient();
  return async (page) => {
    if (!page) return;
    const id = page.document;
    const before = turnsOf(id);
    const next = { ...before, [page.page]: quarterTurn(page.turn + 90) };
    const show = (turns: Turns) =>
      client.setQueryData(
        keys.document(id, 'pages'),
        (old: DocumentPages | undefined) => old && { ...old, turns },
      );
    show(next);
    try {
      await call('turnPages', { params: { documentId: id }, body: { turns: next } });
    } catch (error) {
      show(before);
      toast.error(sentenceOf(error));
    }
  };
}
