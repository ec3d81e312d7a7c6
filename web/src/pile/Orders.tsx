import type { HandBackOrder, Pile } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { plural } from '../time/words.ts';

/** What waits for the time it goes back at; nothing has been seen yet. */
export function Orders({ pile }: { pile: Pile }) {
  if (pile.orders.length === 0) return null;
  return (
    <ul className="mb-2 space-y-1" aria-label="Goes back at a set time">
      {pile.orders.map((order) => (
        <Order key={order.id} pile={pile} order={order} />
      ))}
    </ul>
  );
}

function Order({ pile, order }: { pile: Pile; order: HandBackOrder }) {
  const { clock } = useHere();
  const tell = useTell();
  const { id: assignmentId } = pile.assignment;
  const undo = useMutation({
    mutationFn: () => call('undoHandBack', { params: { orderId: order.id } }),
    onSuccess: () => {
      if (!failed) toast.success('Cancelled: they stay with you. Nobody has seen anything.');
    },
    onError: (error) => void toast.error(sentenceOf(error)),
    onSettled: () => tell('pileChanged', { assignmentId }),
  });
  const { failed } = order;
  const many = order.copyIds.length;
  const when = clock.moment(order.at, Date.now());
  const ready = pile.rows.filter((r) => order.copyIds.includes(r.copyId) && r.place === 'marked').length;
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 rounded bg-action-wash px-3 py-1.5">
      {failed ? (
        <span className="text-caution" role="alert">
          <strong>
            {plural(many, 'copy', 'copies')} could not go back {when}.
          </strong>{' '}
          Nobody has seen anything, and all you marked is kept. Hand them back now, or set another time.
        </span>
      ) : (
        <span>
          <strong>
            {plural(many, 'copy goes', 'copies go')} back {when}
          </strong>
          {order.how.unfinished && ', unfinished'}
          {!order.how.unfinished && ready < many && ` · ${ready} marked so far`}
        </span>
      )}
      <button
        type="button"
        className="text-action underline"
        disabled={undo.isPending}
        onClick={() => undo.mutate()}
      >
        {failed ? 'Dismiss' : 'Cancel'}
      </button>
    </li>
  );
}
