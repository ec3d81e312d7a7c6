import { MOST_TERMS, momentAt, type Term, wallTime } from '@jotmark/core';
import { useState } from 'react';
import { off } from '../frame/off.ts';
import { useHere } from '../frame/session.tsx';

const DAY_MS = 86_400_000;

/** The terms of a class's year: a name and its first and last day. Work belongs to a term by when it is due. */
export function TermsForm({ terms, onChange }: { terms: readonly Term[]; onChange(terms: Term[]): void }) {
  const { timeZone } = useHere().session.school;
  const dayOf = (at: number) => wallTime(at, timeZone).slice(0, 10);
  const start = (day: string) => momentAt(`${day}T00:00`, timeZone);
  const [draft, setDraft] = useState({ name: '', from: '', to: '' });
  const from = start(draft.from);
  const last = start(draft.to);
  // To the end of its last day, also where the clocks change in it.
  const to = last === null ? null : start(dayOf(last + DAY_MS + DAY_MS / 12));
  const wrong =
    draft.from && draft.to && from !== null && to !== null && from >= to
      ? 'The last day is before the first.'
      : terms.some((t) => t.name === draft.name.trim())
        ? 'There is a term of this name.'
        : null;
  const ready = draft.name.trim() && from !== null && to !== null && !wrong && terms.length < MOST_TERMS;
  return (
    <fieldset className="w-full border-t border-line pt-2">
      <legend className="float-left mr-4 py-1.5">Terms</legend>
      <ul className="flex flex-wrap items-center gap-x-4 gap-y-1">
        {terms.map((t) => (
          <li key={t.name} className="flex items-center gap-2 rounded bg-margin px-2 py-1 text-sm">
            <b>{t.name}</b>
            {dayOf(t.from)} to {dayOf(t.to - 1)}
            <button
              type="button"
              className="text-action underline"
              onClick={() => onChange(terms.filter((x) => x !== t))}
            >
              Delete<span className="sr-only"> the term {t.name}</span>
            </button>
          </li>
        ))}
        <li className="flex flex-wrap items-center gap-2">
          <input
            className="field !min-h-8 !w-32 !py-1"
            aria-label="Name of a new term"
            placeholder="Autumn"
            maxLength={40}
            value={draft.name}
            onChange={(e) => setDraft({ ...draft, name: e.target.value })}
          />
          <input
            type="date"
            className="field !min-h-8 !w-40 !py-1"
            aria-label="First day of the term"
            value={draft.from}
            onChange={(e) => setDraft({ ...draft, from: e.target.value })}
          />
          to
          <input
            type="date"
            className="field !min-h-8 !w-40 !py-1"
            aria-label="Last day of the term"
            value={draft.to}
            onChange={(e) => setDraft({ ...draft, to: e.target.value })}
          />
          <button
            type="button"
            className="quiet !min-h-8 !py-1"
            {...off(!ready && 'A term needs a name, a first day, and a last day that is not before it.')}
            onClick={() => {
              onChange(
                [...terms, { name: draft.name.trim(), from: from!, to: to! }].sort((a, b) => a.from - b.from),
              );
              setDraft({ name: '', from: '', to: '' });
            }}
          >
            Add term
          </button>
          {wrong && <span className="text-sm text-caution">{wrong}</span>}
        </li>
      </ul>
    </fieldset>
  );
}
