import type { CopyId, Pile } from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { plural } from '../time/words.ts';

/** Hides the names of a pile, or shows them again. */
export function useBlind(pile: Pile) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (on: boolean) =>
      call('setBlind', { params: { assignmentId: pile.assignment.id }, body: { blind: on } }),
    onMutate: (on) =>
      client.setQueryData(
        keys.pile(pile.assignment.id),
        (old: Pile | undefined) => old && { ...old, blind: on },
      ),
    onSuccess: () => tell(client, 'madeBlind', { assignmentId: pile.assignment.id }),
    onError: (error) => {
      toast.error(sentenceOf(error));
      tell(client, 'pileChanged', { assignmentId: pile.assignment.id });
    },
  });
}

/** Hands copies of a pile back. */
export function useHandBack(pile: Pile, onDone: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (copyIds: readonly CopyId[]) =>
      call('handBack', {
        params: { assignmentId: pile.assignment.id },
        body: { copyIds: [...copyIds] },
      }),
    onSuccess: (answer) => {
      onDone();
      toast.success(`${plural(answer.handedBack.length, 'copy', 'copies')} handed back.`);
      tell(client, 'handedBack', { assignmentId: pile.assignment.id });
    },
    onError: (error) => toast.error(sentenceOf(error)),
  });
}
