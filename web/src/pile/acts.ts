import type { CopyId, HandBackHow, Pile, PileRow } from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { tell, toldAndRead } from '../ask/stale.ts';
import { useAtOnce } from '../ask/useAtOnce.ts';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { plural } from '../time/words.ts';

/** Whether the names of a pile are hidden, and what hides them or shows them again. */
export function useBlind(pile: Pile) {
  const client = useQueryClient();
  const { id: assignmentId } = pile.assignment;
  const keep = useMutation({
    mutationFn: (on: boolean) => call('setBlind', { params: { assignmentId }, body: { blind: on } }),
    onSuccess: () => toldAndRead(client, 'madeBlind', { assignmentId }),
    onError: (error) => toast.error(sentenceOf(error)),
  });
  return useAtOnce(pile.blind, keep.mutateAsync);
}

/** Hands copies of a pile back, now or at the time that was set. */
export function useHandBack(pile: Pile, onDone: () => void) {
  const client = useQueryClient();
  const { clock } = useHere();
  const { id: assignmentId } = pile.assignment;
  return useMutation({
    mutationFn: ({ copyIds, how, at }: { copyIds: readonly CopyId[]; how: HandBackHow; at: number | null }) =>
      call('handBack', { params: { assignmentId }, body: { copyIds: [...copyIds], how, at } }),
    onSuccess: ({ handedBack }, { copyIds, at }) => {
      onDone();
      toast.success(
        at === null
          ? `${plural(handedBack.length, 'copy', 'copies')} handed back.`
          : `${plural(copyIds.length, 'copy goes', 'copies go')} back ${clock.moment(at, Date.now())}.`,
      );
      tell(client, 'handedBack', { assignmentId });
    },
    onError: (error) => toast.error(sentenceOf(error)),
  });
}

/**
 * Hands one copy back in one move, where nothing stands out: it goes in ten seconds, and until then Undo means that nobody saw anything. Where something
 * does stand out, `ask` is called instead.
 */
export function useHandBackOne(pile: Pile, ask: (row: PileRow) => void) {
  const client = useQueryClient();
  const { id: assignmentId } = pile.assignment;
  const changed = () => tell(client, 'handedBack', { assignmentId });
  return async (row: PileRow) => {
    const { copyId } = row;
    try {
      const found = await call('checkHandBack', { params: { assignmentId }, body: { copyIds: [copyId] } });
      if (found.length) return ask(row);
      const { order, at } = await call('handBackSoon', { params: { assignmentId }, body: { copyId } });
      changed();
      const wait = at - Date.now();
      // Its clock may be another than this one's.
      const left = Math.min(SOON_MS, Math.max(1000, wait));
      const toastId = toast(
        `${row.student.given || row.student.family}’s copy goes back in ${Math.round(left / 1000)} seconds.`,
        {
          duration: left,
          action: {
            label: 'Undo',
            onClick: () =>
              call('undoHandBack', { params: { orderId: order } })
                .then(() => toast.success('It was not handed back. Nobody has seen anything.'))
                .catch((error) => toast.error(sentenceOf(error)))
                .finally(changed),
          },
        },
      );
      setTimeout(() => {
        toast.dismiss(toastId);
        changed();
      }, left + 1500);
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  };
}

/** So long one move can be undone, in ms. */
const SOON_MS = 10_000;

/** Takes copies of a pile back in: their students see nothing of them any more. */
export function useRecall(pile: Pile, onDone: () => void) {
  const client = useQueryClient();
  const { id: assignmentId } = pile.assignment;
  return useMutation({
    mutationFn: ({ copyIds, ...how }: { copyIds: readonly CopyId[]; tell: boolean; words: string }) =>
      call('recall', { params: { assignmentId }, body: { copyIds: [...copyIds], ...how } }),
    onSuccess: ({ recalled, kept }) => {
      onDone();
      toast.success(
        `${plural(recalled.length, 'copy', 'copies')} recalled: with you again, marked.${kept.length ? ` ${kept.length} stayed, since they were handed in again.` : ''}`,
      );
      tell(client, 'handedBack', { assignmentId });
    },
    onError: (error) => toast.error(sentenceOf(error)),
  });
}
