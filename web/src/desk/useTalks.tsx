import type { Desk } from '@jotmark/core';
import { useMemo } from 'react';
import { useSaidHere } from '../conversation/SaidHere.tsx';
import { sayAt, TalkAt } from '../conversation/TalkAt.tsx';
import { isSettled, NO_TALK, talksOf } from '../conversation/talk.ts';
import { useMessages } from '../conversation/useMessages.ts';
import type { BelowNote } from '../margin/margin-look.ts';

/** What was said at places while work went on, over the pages; and of a copy that was handed back, what was answered to its notes, below each. */
export function useTalks(desk: Desk, active: string | null) {
  const { copyId, handedBack, firstBackAt } = desk;
  const said = useMessages(copyId);
  const saidHere = useSaidHere(copyId, desk.asked);
  const below = useMemo((): BelowNote | null => {
    if (!handedBack || !said) return null;
    const talks = talksOf(said, firstBackAt ?? 0);
    const typed = new Set(desk.asked.map((a) => a.document));
    return (note, onOpen) => {
      const talk = talks.get(note.id) ?? NO_TALK;
      const settled = isSettled(talk, note, typed);
      return (
        <TalkAt
          copyId={copyId}
          note={note}
          talk={talk}
          open={note.id === active}
          settled={settled}
          onOpen={onOpen}
          acts={
            settled && (
              <button
                type="button"
                className="quiet !min-h-7 !px-2 !py-0.5 text-[13px]"
                onClick={() => sayAt(copyId, note, '', 'reopened')}
              >
                Reopen
              </button>
            )
          }
        />
      );
    };
  }, [copyId, handedBack, firstBackAt, desk.asked, said, active]);
  return { below, saidHere };
}
