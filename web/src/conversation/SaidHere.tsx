import {
  type CopyId,
  type FilledIn,
  type Message,
  type MessageId,
  type PageView,
  plainWords,
  type SaidSpot,
  spotsOf,
  toScreen,
} from '@jotmark/core';
import { MessageSquareText } from 'lucide-react';
import { type ReactNode, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { tip } from '../frame/tip.ts';
import { When } from '../frame/When.tsx';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';
import { WordsShow } from '../words/WordsShow.tsx';
import { Byline } from './Byline.tsx';
import { MessageField } from './MessageField.tsx';
import { useMessages } from './useMessages.ts';

const NONE: readonly FilledIn[] = [];

/** What was said at places of a copy while work went on, without the messages `apart`: drawn over each page by the function that this gives, the same one for as long as nothing of it changes. */
export function useSaidHere(copyId: CopyId, filled: readonly FilledIn[] = NONE, apart?: ReadonlySet<string>) {
  const messages = useMessages(copyId);
  return useMemo(() => {
    const spots = spotsOf(
      (messages ?? []).filter((m) => !apart?.has(m.id)),
      filled,
    );
    const drawn = new Map<string, ReactNode>();
    return (page: { document: string; page: number }, view: PageView): ReactNode => {
      const here = spots.filter((s) => s.document === page.document && s.page === page.page);
      if (here.length === 0) return null;
      // The same nodes for the same page: pages are made anew when something of them is another.
      const key = `${page.document}/${page.page} ${JSON.stringify(view)}`;
      if (!drawn.has(key))
        drawn.set(
          key,
          here.map((s) => (
            <SaidHere
              key={s.note === undefined ? s.messages[0]!.id : `note ${s.x} ${s.y}`}
              spot={s}
              copyId={copyId}
              view={view}
            />
          )),
        );
      return drawn.get(key);
    };
  }, [copyId, messages, filled, apart]);
}

/** A small sign over the spot, beside the words that stand there; what was said opens below it. */
function SaidHere({ spot, copyId, view }: { spot: SaidSpot; copyId: CopyId; view: PageView }) {
  const [open, setOpen] = useState(false);
  const [x, y] = toScreen(view, [spot.x, spot.y]);
  const { note } = spot;
  const first = note ?? (plainWords(spot.messages[0]!.words) || 'a suggestion');
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Escape closes what the button in it opened
    <div
      data-own-pointer
      data-said
      className="absolute z-20"
      // Over the number of a note, which stays to be read; beside the words that a message is about.
      style={
        note === undefined
          ? { left: Math.min(x, view.width - 20), top: y - 20 }
          : { left: x - 13, top: y - 13 }
      }
      onKeyDown={(e) => {
        if (e.key !== 'Escape' || !open) return;
        e.stopPropagation();
        setOpen(false);
      }}
    >
      <button
        type="button"
        aria-expanded={open}
        aria-label={note === undefined ? `Message at this place: ${first}` : `Note on the copy: ${first}`}
        {...tip(first)}
        className={
          note === undefined
            ? 'grid size-5 place-items-center rounded-full bg-raised text-action opacity-80 shadow hover:opacity-100'
            : 'block size-[26px] rounded-full border-2 border-answer hover:bg-answer/20'
        }
        onClick={() => setOpen(!open)}
      >
        {note === undefined && <MessageSquareText size={14} aria-hidden="true" />}
      </button>
      {open && (
        <div
          className={`absolute top-7 w-60 rounded-lg border border-line bg-raised p-2 text-sm shadow-lg ${x > view.width - 240 ? 'right-0' : 'left-0'}`}
        >
          {note !== undefined && (
            <p className="mb-2 break-words">
              <span className="block text-xs text-soft">The student’s own note</span>
              {note}
            </p>
          )}
          <ol className="space-y-2">
            {spot.messages.map((m) => (
              <li key={m.id} className="break-words">
                <p className="text-xs text-soft">
                  <Byline message={m} copyId={copyId} />
                </p>
                <MessageWords message={m} />
              </li>
            ))}
          </ol>
          {note !== undefined && (
            <MessageField
              label="Answer to this note"
              placeholder="Answer (sent at once)"
              onSay={(words) =>
                outbox.say(copyId, {
                  type: 'word',
                  id: newId<MessageId>(),
                  words,
                  place: { document: spot.document, page: spot.page, x: spot.x, y: spot.y },
                })
              }
            />
          )}
        </div>
      )}
    </div>
  );
}

/** The words of a message, and what they are about: the words they quote, and what should come in their place. */
export function MessageWords({ message: { words, place } }: { message: Message }) {
  const instead = place?.instead;
  return (
    <div className="break-words">
      {place?.quote && (
        <p className="text-[13px] text-soft">
          {instead && instead.kind !== 'add' ? <s>{place.quote.exact}</s> : `“${place.quote.exact}”`}
          {instead && instead.kind !== 'cut' && <b className="text-text"> → {instead.words}</b>}
        </p>
      )}
      {words && <WordsShow words={words} />}
    </div>
  );
}

/** Leads to the moment of the working trail that a message is about. */
export function ToMoment({ message, copyId }: { message: Message; copyId: string }) {
  const moment = message.place?.moment;
  if (moment === undefined) return null;
  return (
    <Link to={`/copies/${copyId}/trail?moment=${moment}`} className="text-[13px] text-action underline">
      See the copy at <When at={moment} />
    </Link>
  );
}
