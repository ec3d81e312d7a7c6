import {
  FAVOURITE_KEYS,
  type FavouriteKey,
  fillPhrase,
  type HandInId,
  type MarginMark,
  openBlank,
  type Phrase,
  type PhraseId,
  plainPhrase,
  plainWords,
  type Question,
  same,
} from '@jotmark/core';
import { BookmarkPlus } from 'lucide-react';
import { type RefObject, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { toast } from '../frame/toast.ts';
import { newId } from '../outbox/new-id.ts';
import type { GhostsProps } from '../words/ghosts.ts';
import { HandInk } from './HandInk.tsx';
import { saidOnceMore } from './said-before.ts';
import { type Bank, useBank } from './useBank.ts';

/** So many phrases stand below what is typed; fewer as long as nothing is. */
const MOST = 5;
const MOST_UNASKED = 4;
/** What lies at the foot of the desk, in CSS pixels: below it nothing is read. */
const FOOT = 96;

/** The bar at the top of every view. */
const HEAD = 48;

/** What is known where words are written. */
export interface PhraseSite {
  /** The student's first name, as it is seen. */
  readonly name: string | null;
  /** What is marked; null: it is no marking that is written, and no use is counted. */
  readonly handInId: HandInId | null;
  /** The question a note stands at, with its number. */
  questionOf?(note: MarginMark): { readonly id: Question['id']; readonly number: string } | null;
  /** A phrase was put into this note: what else belongs to it. */
  onTaken?(note: MarginMark, phrase: Phrase): void;
  /** A phrase that was written by hand was chosen while this note was written: it is put there in its place. */
  onInk?(note: MarginMark, phrase: Phrase): void;
}

interface Props extends GhostsProps {
  readonly site: PhraseSite;
}

/** What a comment is about: its words on the page, if it has some. */
export const quoted = (note: MarginMark | null): string | null =>
  note && 'quote' in note.place ? note.place.quote.exact.slice(0, 80) : null;

/** Phrases wherever a teacher writes: about nobody that is known. */
export const PhrasesAnywhere = (p: GhostsProps) => <PhraseGhosts {...p} site={ANYWHERE} />;
const ANYWHERE: PhraseSite = { name: null, handInId: null };

/** The first blank that is still to be filled is picked, ready to be typed over. */
function pickBlank(field: RefObject<HTMLTextAreaElement | null>): void {
  requestAnimationFrame(() => {
    const el = field.current;
    const blank = el && openBlank(el.value);
    if (blank) el.setSelectionRange(blank.start, blank.end);
    else el?.setSelectionRange(el.value.length, el.value.length);
  });
}

/** Under which digit each phrase that is shown is taken: a favourite under its own, the others under what is free. */
export function digitsOf(shown: readonly Phrase[], all: readonly Phrase[]): (FavouriteKey | null)[] {
  const taken = new Set(all.flatMap((p) => (p.key ? [p.key] : [])));
  const free = FAVOURITE_KEYS.filter((key) => !taken.has(key));
  let next = 0;
  return shown.map((p) => p.key ?? free[next++] ?? null);
}

/**
 * Below words that are being written: phrases of the bank that fit what is typed. Tab takes the first, Alt and a digit any, a favourite always under its own;
 * Alt and K keeps what is typed in the bank. Nothing has to be typed to call it.
 */
export function PhraseGhosts({ words, about, field, above, take, site }: Props) {
  const bank = useBank();
  const [taken, setTaken] = useState<string | null>(null);
  const question = about && site.questionOf?.(about);
  const focus = about?.focus ?? null;
  const found = useMemo(() => {
    // Where something is sent, phrases wait until something is typed.
    if (words === taken || (above && !words.trim())) return [];
    const where = { focus, question: question?.id ?? null, now: Date.now() };
    if (words.trim()) return bank.index.find(words, where, MOST);
    const favourites = bank.phrases.filter((p) => p.key).sort((a, b) => (a.key! < b.key! ? -1 : 1));
    return [...new Set([...favourites.slice(0, MOST), ...bank.index.find('', where, MOST_UNASKED)])].slice(
      0,
      MOST,
    );
  }, [bank.index, bank.phrases, words, taken, above, focus, question?.id]);
  // What is written by hand is put onto a page, not into words.
  const shown = found.filter((p) => p.words !== words.trim() && (p.ink === null || (about && site.onInk)));
  const digits = digitsOf(shown, bank.phrases);
  const choose = (phrase: Phrase) => {
    if (phrase.ink && about) return site.onInk?.(about, phrase);
    const said = fillPhrase(phrase.words, {
      name: site.name,
      words: quoted(about),
      question: question?.number ?? null,
    });
    setTaken(said);
    take(said);
    if (site.handInId)
      bank.used(phrase.id, site.handInId, { markId: about?.id ?? null, questionId: question?.id ?? null });
    if (about) site.onTaken?.(about, phrase);
    pickBlank(field);
  };
  const known = bank.phrases.some((p) => p.words === words.trim());
  const keep = useKeep(bank, words.trim(), focus, known);
  useThirdTime(bank, words.trim(), known || words === taken, focus);
  const withKey = (key: string) =>
    shown[digits.indexOf(key as FavouriteKey)] ?? bank.phrases.find((p) => p.key === key);
  const newest = useRef({ shown, choose, keep, withKey });
  newest.current = { shown, choose, keep, withKey };
  useEffect(() => {
    const typed = field.current;
    if (!typed) return;
    const heard = (e: KeyboardEvent) => {
      const now = newest.current;
      const digit = e.altKey && /^Digit([1-9])$/.exec(e.code)?.[1];
      const plainTab = e.key === 'Tab' && !e.shiftKey && !e.altKey && !e.ctrlKey;
      const wanted = plainTab ? now.shown[0] : digit ? now.withKey(digit) : undefined;
      if (wanted) now.choose(wanted);
      else if (e.altKey && e.code === 'KeyK') now.keep();
      else return;
      e.preventDefault();
      e.stopPropagation();
    };
    typed.addEventListener('keydown', heard);
    return () => typed.removeEventListener('keydown', heard);
  }, [field]);
  const offers = words.trim() !== '' && !known;
  if (shown.length === 0 && !offers) return null;
  return (
    <GhostList
      shown={shown}
      digits={digits}
      field={field}
      above={above}
      onChoose={choose}
      onKeep={offers ? keep : null}
    />
  );
}

function GhostList(p: {
  readonly shown: readonly Phrase[];
  readonly digits: readonly (string | null)[];
  readonly field: RefObject<HTMLTextAreaElement | null>;
  readonly above: boolean;
  onChoose(phrase: Phrase): void;
  readonly onKeep: (() => void) | null;
}) {
  // Where there is no room below the words they stand above them.
  const list = useRef<HTMLDivElement>(null);
  // Nothing that can be pressed lies under them: they begin below the whole card of a note, above the field where its words are sent.
  const [at, setAt] = useState<{ readonly top: number } | { readonly bottom: number }>({ top: 0 });
  useLayoutEffect(() => {
    const field = p.field.current?.getBoundingClientRect();
    const here = list.current?.parentElement?.getBoundingClientRect();
    if (!field || !here || !list.current) return;
    const card = p.field.current?.closest('article, form')?.getBoundingClientRect();
    const below = Math.max(here.bottom, card?.bottom ?? 0);
    const high = list.current.offsetHeight;
    const roomBelow = below + high <= window.innerHeight - (p.above ? 0 : FOOT);
    const roomAbove = Math.min(field.top, card?.top ?? field.top) - high >= HEAD;
    const above = p.above ? roomAbove || !roomBelow : !roomBelow;
    const next = above
      ? { bottom: Math.round(here.bottom - Math.min(field.top, card?.top ?? field.top)) }
      : { top: Math.round(below - here.top) };
    setAt((before) => (same(before, next) ? before : next));
  });
  return (
    <div className="relative" data-own-pointer onPointerDown={(e) => e.preventDefault()}>
      <div
        ref={list}
        className="absolute right-0 left-0 z-20 my-0.5 rounded-lg border border-line bg-tray p-1 font-sans text-[13px] leading-snug text-text shadow-lg"
        style={at}
      >
        {p.shown.length > 0 && (
          <ol aria-label="Phrases of your bank">
            {p.shown.map((phrase, i) => (
              <li key={phrase.id}>
                <button
                  type="button"
                  tabIndex={-1}
                  className="flex w-full items-baseline gap-2 rounded px-1.5 py-1 text-left text-soft hover:bg-action-wash hover:text-text"
                  onClick={() => p.onChoose(phrase)}
                >
                  <span className="line-clamp-2 min-w-0 flex-1 break-words">
                    {phrase.ink && <HandInk ink={phrase.ink} most={28} />}
                    {plainWords(phrase.words)}
                  </span>
                  <span className="key shrink-0">
                    {i === 0 ? 'Tab' : p.digits[i] ? `Alt ${p.digits[i]}` : ''}
                  </span>
                </button>
              </li>
            ))}
          </ol>
        )}
        {p.onKeep && (
          <button
            type="button"
            tabIndex={-1}
            className="flex w-full items-center gap-1.5 rounded px-1.5 py-1 text-left text-action hover:bg-action-wash"
            onClick={p.onKeep}
          >
            <BookmarkPlus size={14} aria-hidden="true" /> Keep in the bank
            <span className="key ml-auto">Alt K</span>
          </button>
        )}
      </div>
    </div>
  );
}

/** Keeps words in the bank, once, however often the key is struck. */
function useKeep(bank: Bank, said: string, focus: string | null, known: boolean): () => void {
  const going = useRef(new Set<string>());
  return () => {
    if (!said || known || going.current.has(said)) return;
    going.current.add(said);
    bank
      .keep([plainPhrase(newId<PhraseId>(), said, { focus })])
      .then(() => toast.success('Kept in your comment bank.'));
  };
}

/** Words that are typed a third time offer themselves to the bank, when they are left. */
function useThirdTime(bank: Bank, said: string, known: boolean, focus: string | null): void {
  const last = useRef({ bank, said, known, focus });
  last.current = { bank, said, known, focus };
  useEffect(
    () => () => {
      const { bank: b, said: words, known: had, focus: about } = last.current;
      if (had || !saidOnceMore(words)) return;
      toast('You have written this three times.', {
        description: words.slice(0, 120),
        duration: 12_000,
        action: {
          label: 'Keep in the bank',
          onClick: () => void b.keep([plainPhrase(newId<PhraseId>(), words, { focus: about })]),
        },
      });
    },
    [],
  );
}
