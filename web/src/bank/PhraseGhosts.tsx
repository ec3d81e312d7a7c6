import {
  fillPhrase,
  type HandInId,
  isWorded,
  type MarginMark,
  type Phrase,
  type PhraseId,
} from '@jotmark/core';
import { BookmarkPlus } from 'lucide-react';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { sentenceOf } from '../api/sentences.ts';
import { newId } from '../outbox/new-id.ts';
import { useBank } from './useBank.ts';

/** So many phrases stand below what is typed; fewer as long as nothing is. */
const MOST = 5;
const MOST_UNASKED = 3;
/** What lies at the foot of the desk, in CSS pixels: below it nothing is read. */
const FOOT = 96;

export interface GhostsProps {
  readonly note: MarginMark;
  /** The words of the note from now on. */
  take(words: string): void;
}

interface Props extends GhostsProps {
  /** The student's first name, as it is seen. */
  readonly name: string;
  readonly handInId: HandInId;
}

/** What a comment is about: its words on the page, if it has some. */
const quoted = (note: MarginMark): string | null =>
  'quote' in note.place ? note.place.quote.exact.slice(0, 80) : null;

/** The first blank that is still to be filled is picked, ready to be typed over. */
function pickBlank(field: HTMLTextAreaElement | null): void {
  requestAnimationFrame(() => {
    const blank = field && /\[[^\]]+\]/.exec(field.value);
    if (blank) field.setSelectionRange(blank.index, blank.index + blank[0].length);
  });
}

/**
 * Below a comment that is being written: phrases of the bank that fit what is typed. Tab takes the first, Alt and a digit any; Alt and K keeps what is
 * typed in the bank. Nothing has to be typed to call it.
 */
export function PhraseGhosts({ note, take, name, handInId }: Props) {
  const bank = useBank();
  const box = useRef<HTMLDivElement>(null);
  const [taken, setTaken] = useState<string | null>(null);
  const words = isWorded(note) ? note.words : '';
  const found = useMemo(
    () =>
      words === taken
        ? []
        : bank.index.find(words, { focus: note.focus, now: Date.now() }, words.trim() ? MOST : MOST_UNASKED),
    [bank.index, words, taken, note.focus],
  );
  const shown = found.filter((p) => p.words !== words.trim());
  const field = () => box.current?.parentElement?.querySelector('textarea') ?? null;
  const choose = (phrase: Phrase) => {
    const said = fillPhrase(phrase.words, { name, words: quoted(note) });
    setTaken(said);
    take(said);
    bank.used(phrase.id, handInId);
    pickBlank(field());
  };
  const known = bank.phrases.some((p) => p.words === words.trim());
  // On its way to the bank: a key that is struck twice keeps it once.
  const going = useRef(new Set<string>());
  const keep = async () => {
    const said = words.trim();
    if (!said || known || going.current.has(said)) return;
    going.current.add(said);
    try {
      await bank.keep([{ id: newId<PhraseId>(), words: said, group: '', focus: note.focus }]);
      toast.success('Kept in your comment bank.');
    } catch (error) {
      going.current.delete(said);
      toast.error(`It is not in the bank; the comment itself stands. ${sentenceOf(error)}`);
    }
  };
  const newest = useRef({ shown, choose, keep });
  newest.current = { shown, choose, keep };
  useEffect(() => {
    const typed = box.current?.parentElement?.querySelector('textarea');
    if (!typed) return;
    const heard = (e: KeyboardEvent) => {
      const now = newest.current;
      const digit = e.altKey && /^Digit([1-5])$/.exec(e.code)?.[1];
      const wanted =
        e.key === 'Tab' && !e.shiftKey ? now.shown[0] : digit ? now.shown[Number(digit) - 1] : undefined;
      if (wanted) now.choose(wanted);
      else if (e.altKey && e.code === 'KeyK') now.keep();
      else return;
      e.preventDefault();
      e.stopPropagation();
    };
    typed.addEventListener('keydown', heard);
    return () => typed.removeEventListener('keydown', heard);
  }, []);
  // Where there is no room below the comment they stand above it.
  const list = useRef<HTMLDivElement>(null);
  const [above, setAbove] = useState(false);
  useLayoutEffect(() => {
    const card = box.current?.parentElement?.getBoundingClientRect();
    if (card && list.current) setAbove(card.bottom + list.current.offsetHeight > window.innerHeight - FOOT);
  });
  return (
    <div ref={box} data-own-pointer>
      {(shown.length > 0 || (words.trim() !== '' && !known)) && (
        <div
          ref={list}
          className={`absolute right-0 left-0 z-20 my-0.5 rounded-lg border border-line bg-tray p-1 text-[13px] leading-snug shadow-lg ${above ? 'bottom-full' : 'top-full'}`}
        >
          {shown.length > 0 && (
            <ol aria-label="Phrases of your bank">
              {shown.map((phrase, i) => (
                <li key={phrase.id}>
                  <button
                    type="button"
                    tabIndex={-1}
                    className="flex w-full items-baseline gap-2 rounded px-1.5 py-1 text-left text-soft hover:bg-action-wash hover:text-text"
                    onPointerDown={(e) => e.preventDefault()}
                    onClick={() => choose(phrase)}
                  >
                    <span className="min-w-0 flex-1 break-words">{phrase.words}</span>
                    <span className="key shrink-0">{i === 0 ? 'Tab' : `Alt ${i + 1}`}</span>
                  </button>
                </li>
              ))}
            </ol>
          )}
          {words.trim() !== '' && !known && (
            <button
              type="button"
              tabIndex={-1}
              className="flex w-full items-center gap-1.5 rounded px-1.5 py-1 text-left text-action hover:bg-action-wash"
              onPointerDown={(e) => e.preventDefault()}
              onClick={keep}
            >
              <BookmarkPlus size={14} aria-hidden="true" /> Keep in the bank
              <span className="key ml-auto">Alt K</span>
            </button>
          )}
        </div>
      )}
    </div>
  );
}
