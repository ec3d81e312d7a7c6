import { canStandElsewhere, isSuggestion, type MarginMark, type NoteMark, placesOf } from '@jotmark/core';
import { createContext, use, useMemo } from 'react';
import { SignedPoints } from '../bank/SignedPoints.tsx';
import { plural } from '../time/words.ts';
import { VoiceTools } from '../voice/VoiceTools.tsx';
import type { DeskNotes } from './useDeskNotes.ts';

/** What the tools below a note can do on this desk. */
export const NotesHere = createContext<NotesAtDesk | null>(null);

/** What is done with notes, and how one is spoken. */
interface NotesAtDesk extends DeskNotes {
  /** Whether a note can earn points here. */
  readonly graded: boolean;
  speak(note: NoteMark, clip: boolean): void;
}

/** Below a note that is in hand: what it earns, where else it stands; below a suggestion: the sentence anew, and the others of its kind. */
export function NoteTools({ note }: { note: MarginMark }) {
  const notes = use(NotesHere);
  if (!notes) return null;
  return note.kind === 'note' ? (
    <ToolsOfNote note={note} notes={notes} />
  ) : (
    <ToolsOfSuggestion note={note} notes={notes} />
  );
}

const TOOL = 'rounded px-1 hover:bg-action-wash hover:text-action';

function ToolsOfNote({ note, notes }: { note: NoteMark; notes: NotesAtDesk }) {
  const { does, adding, speak } = notes;
  const able = canStandElsewhere(note);
  const like = useLike(able ? note : null, notes);
  const places = placesOf(note);
  return (
    <div className="flex flex-wrap items-center gap-x-1 gap-y-0.5 pb-0.5">
      {notes.graded && (
        <SignedPoints
          label="Points"
          className="w-14 rounded border border-line bg-paper px-1"
          value={note.points ?? null}
          onChange={(points) => {
            const { points: _, ...bare } = note;
            does.onRemake(note, points === null ? bare : { ...bare, points });
          }}
        />
      )}
      {able && (
        <button
          type="button"
          aria-pressed={adding === note.id}
          className={`${TOOL} ${adding === note.id ? 'bg-action-wash text-action' : ''}`}
          onClick={() => does.beginAdding(note)}
        >
          {adding === note.id ? 'Tap each place …' : 'Add places'} <span className="key">a</span>
        </button>
      )}
      {like.length > 0 && (
        <button type="button" className={TOOL} onClick={() => does.addPlaces(note, like)}>
          Also at {plural(like.length, 'same place', 'same places')} <span className="key">x</span>
        </button>
      )}
      <VoiceTools
        recording={note.voice ?? null}
        keyName="v"
        onRecord={(clip) => speak(note, clip)}
        onChange={(voice) => {
          const { voice: _, ...bare } = note;
          does.onRemake(note, voice ? { ...bare, voice } : bare);
        }}
      />
      {places > 1 && (
        <button type="button" className={TOOL} onClick={() => does.walkPlaces(note)}>
          Next of {places} places
        </button>
      )}
    </div>
  );
}

function ToolsOfSuggestion({ note, notes }: { note: Exclude<MarginMark, NoteMark>; notes: NotesAtDesk }) {
  const like = useLike(note.kind === 'add' ? null : note, notes);
  const { does } = notes;
  return (
    <div className="flex flex-wrap items-center gap-x-1 gap-y-0.5 pb-0.5">
      {note.kind === 'swap' && (
        <button type="button" className={TOOL} onClick={() => does.onWords(note, note.place.quote.exact)}>
          Rewrite these words <span className="key">Alt R</span>
        </button>
      )}
      {like.length > 0 && (
        <button type="button" className={TOOL} onClick={() => does.letFind(note, like)}>
          Let them find {plural(like.length, 'other', 'others')} <span className="key">x</span>
        </button>
      )}
    </div>
  );
}

/** Where else the words stand that a note is about, beside where it stands already. */
export function useLike(note: MarginMark | null, { does }: DeskNotes) {
  return useMemo(() => {
    if (!note || !(isSuggestion(note) || canStandElsewhere(note))) return [];
    const places = does.placesLike(note);
    if (note.kind !== 'note' || !note.also) return places;
    const there = new Set(
      note.also.map((a) => `${a.document} ${a.page} ${a.place.on === 'passage' ? a.place.quote.start : ''}`),
    );
    return places.filter(
      (a) => !there.has(`${a.document} ${a.page} ${a.place.on === 'passage' ? a.place.quote.start : ''}`),
    );
  }, [note, does]) as ReturnType<DeskNotes['does']['placesLike']>;
}
