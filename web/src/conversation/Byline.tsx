import type { CopyId } from '@jotmark/core';
import { useHere } from '../frame/session.tsx';
import { wordsLane } from '../outbox/letter.ts';
import { outbox } from '../outbox/outbox.ts';
import { ACT_WORDS } from './talk.ts';
import type { Heard } from './useMessages.ts';

/** How a message stands that was not sent yet. */
const WAITS = {
  saved: 'is sent …',
  saving: 'is sent …',
  kept: 'kept on this device, sent when there is a network',
  loose: 'not sent yet: leave this page open',
} as const;

/** Who said a message, what they did with `what`, when, and whether it was read. */
export function Byline({ message: m, copyId, what }: { message: Heard; copyId: CopyId; what?: string }) {
  const { clock } = useHere();
  const stands = m.withdrawn
    ? 'withdrawn'
    : m.waits
      ? WAITS[outbox.lane(wordsLane(copyId)).save]
      : m.seenAt !== null
        ? `read ${clock.moment(m.seenAt, Date.now())}`
        : 'not read yet';
  return (
    <span {...(m.waits && { role: 'status' })}>
      {m.mine ? 'You' : m.by}
      {m.cover && ', with the copy'}
      {m.act && ` ${ACT_WORDS[m.act]}${what && m.act !== 'reflected' ? ` ${what}` : ''}`}
      {!m.waits && ` · ${clock.moment(m.at, Date.now())}`}
      {m.edited && !m.withdrawn && ' · edited'}
      {(m.mine || m.withdrawn) && ` · ${stands}`}
    </span>
  );
}
