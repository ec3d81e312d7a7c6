import { type Became, type Carried, lineOf, type WhatBecame } from '@jotmark/core';
import { type KeyboardEvent, useRef } from 'react';
import { NO_TALK, type Talk } from '../conversation/talk.ts';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { plural } from '../time/words.ts';
import type { InAgain } from './useInAgain.ts';

const BECAME: Readonly<Record<Became, string>> = {
  still: 'still there',
  changed: 'changed',
  taken: 'accepted',
  gone: 'its place is gone',
  unknown: 'to look at',
};
const SAID: Readonly<Record<WhatBecame, string>> = {
  'dealt-with': 'dealt with',
  again: 'said again',
  'let-go': 'dropped',
};

interface Props {
  readonly again: InAgain;
  /** What was said at each note. */
  readonly talks: ReadonlyMap<string, Talk>;
  /** Nothing can be changed. */
  readonly fixed: boolean;
  readonly student: string;
  onSee(carried: Carried): void;
}

/** What became of the notes of the hand-in before: each with what its student did about it and what stands there now; one key each to agree. */
export function BecamePart({ again, talks, fixed, student, onSee }: Props) {
  const { carried, active, setActive, verdictOf } = again;
  const list = useRef<HTMLOListElement>(null);
  if (carried.length === 0) return null;
  const open = carried.filter((c) => verdictOf(c.mark.id) === null);
  // What was accepted, or is other words now and called sorted by its student.
  const likely = open.filter(
    (c) =>
      c.became === 'taken' ||
      (c.became === 'changed' && ['sorted', 'accepted'].includes(talks.get(c.mark.id)?.act ?? '')),
  );
  const go = (to: number) => {
    const next = carried[to];
    if (!next) return;
    setActive(next.mark.id);
    onSee(next);
    list.current?.querySelectorAll<HTMLElement>('[data-note]')[to]?.focus();
  };
  const decide = (c: Carried, verdict: WhatBecame) => {
    if (verdict === 'again') again.sayAgain(c);
    else again.say(c.mark.id, verdict);
  };
  const press = (e: KeyboardEvent, c: Carried, i: number) => {
    const verdict = ({ s: 'dealt-with', y: 'again', x: 'let-go' } as const)[e.key];
    if (e.key === 'ArrowDown' || e.key === 'ArrowUp') go(i + (e.key === 'ArrowDown' ? 1 : -1));
    else if (verdict && !fixed && (verdict !== 'again' || c.now)) {
      decide(c, verdict);
      go(i + 1);
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <section className="mb-4 border-b border-dashed border-line-strong pb-3" aria-label="What became of it">
      <h3 className="font-bold">What became of it</h3>
      <p className="text-sm text-soft">
        {carried.length - open.length} of {plural(carried.length, 'note', 'notes')} looked at
      </p>
      {likely.length > 1 && !fixed && (
        <button
          type="button"
          className="mt-1 text-left text-sm text-action underline"
          onClick={() =>
            again.sayAll(
              likely.map((c) => c.mark.id),
              'dealt-with',
            )
          }
        >
          {likely.length} look dealt with: agree to all
        </button>
      )}
      <ol ref={list} className="mt-2 space-y-1">
        {carried.map((c, i) => (
          <li key={c.mark.id}>
            <Note
              carried={c}
              verdict={verdictOf(c.mark.id)}
              talk={talks.get(c.mark.id) ?? NO_TALK}
              student={student}
              open={active === c.mark.id}
              onOpen={() => go(i)}
              onKey={(e) => press(e, c, i)}
            />
            {active === c.mark.id && !fixed && (
              <p className="flex flex-wrap gap-1.5 px-2 pb-1.5">
                <Do words="Dealt with" sign="s" onDo={() => decide(c, 'dealt-with')} />
                {c.now && <Do words="Say it again" sign="y" onDo={() => decide(c, 'again')} />}
                <Do words="Discard" sign="x" onDo={() => decide(c, 'let-go')} />
              </p>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

function Do({ words, sign, onDo }: { words: string; sign: string; onDo(): void }) {
  return (
    <button type="button" className="quiet !min-h-7 !px-2 !py-0.5 text-[13px]" onClick={onDo}>
      {words} <span className="key">{sign}</span>
    </button>
  );
}

function Note({
  carried: { mark, became, was, is },
  verdict,
  talk,
  student,
  open,
  onOpen,
  onKey,
}: {
  carried: Carried;
  verdict: WhatBecame | null;
  talk: Talk;
  student: string;
  open: boolean;
  onOpen(): void;
  onKey(e: KeyboardEvent): void;
}) {
  const answer = talk.messages.findLast((m) => !m.mine && m.words)?.words;
  const did = talk.act && talk.act !== 'reopened' ? `${student} ${ACTS[talk.act]}` : null;
  return (
    <button
      type="button"
      data-note
      aria-expanded={open}
      className={`block w-full rounded px-2 py-1 text-left text-[14px] ${open ? 'bg-action-wash' : 'hover:bg-action-wash'}`}
      onClick={onOpen}
      onKeyDown={onKey}
    >
      <span className="flex items-baseline gap-1.5">
        <FocusSignGlyph colour={mark.colour} sign={mark.sign} size={10} />
        <span
          className={`min-w-0 flex-1 break-words ${open ? '' : 'line-clamp-2'} ${verdict ? 'text-soft' : ''}`}
        >
          {lineOf(mark)}
        </span>
      </span>
      <span className="mt-0.5 flex items-baseline gap-2">
        <span
          className={`shrink-0 rounded px-1.5 text-xs font-semibold ${verdict ? 'bg-action text-white' : became === 'still' ? 'bg-margin text-caution' : 'bg-margin text-soft'}`}
        >
          {verdict ? SAID[verdict] : BECAME[became]}
        </span>
      </span>
      {(did || answer) && (
        <span className="mt-0.5 block text-[13px] break-words text-soft">
          {did}
          {did && answer && ': '}
          {answer && `“${answer}”`}
        </span>
      )}
      {open && was && was !== is && (
        <span className="mt-0.5 block text-[13px] break-words">
          <s className="text-soft">{was}</s> {is && <b>→ {is}</b>}
        </span>
      )}
    </button>
  );
}

const ACTS: Readonly<Record<NonNullable<Talk['act']>, string>> = {
  accepted: 'accepted it',
  declined: 'declined it',
  sorted: 'called it sorted',
  reopened: 'reopened it',
  reflected: 'answered it',
};
