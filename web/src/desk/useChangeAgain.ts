import type { Desk } from '@jotmark/core';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { toast } from '../frame/toast.ts';

/** Marks on after the copy was handed back; its student keeps what they have until it goes back again. */
export function useChangeAgain(desk: Desk): () => void {
  const tell = useTell();
  return () =>
    call('changeAgain', { params: { copyId: desk.copyId } })
      .then(() => tell('handedBack', { assignmentId: desk.assignment.id }))
      .catch((error) => toast.error(sentenceOf(error)));
}
