import {
  canStandElsewhere,
  findYourself,
  gatherAlike,
  isSuggestion,
  type MarginMark,
  type Mark,
  type MarkId,
  type NotePlace,
  type PatternNote,
  type Pen,
  repetitionsOf,
  type Suggestion,
  standsAlso,
} from '@jotmark/core';
import { useMemo, useState } from 'react';
import { useStable } from '../frame/useStable.ts';
import { exchange, putChange, standing } from '../outbox/changes.ts';
import { newId } from '../outbox/new-id.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import type { DeskMarks } from './useDeskMarks.ts';
import type { DeskPaper } from './useDeskPaper.ts';
import type { useTyping } from './useTyping.ts';

/** What a student reads at the further places of a slip that was put right once. */
const FIND_IT = 'The same again here. Find it and put it right.';

interface Options {
  readonly keeper: SheetKeeper;
  readonly paper: DeskPaper;
  readonly marks: DeskMarks;
  readonly words: ReturnType<typeof useTyping>;
}

/** What is done with notes and suggestions beside writing them: further places, points, reasons, gathering what is alike. */
export function useDeskNotes({ keeper, paper, marks, words }: Options) {
  const { hold } = marks;
  const [adding, setAdding] = useState<MarkId | null>(null);
  const pages = useMemo(
    () => paper.pages.map((p, i) => ({ document: p.document, page: p.page, text: paper.texts[i] ?? null })),
    [paper.pages, paper.texts],
  );
  const remake = (mark: Mark, remade: (was: Mark) => Mark) => {
    words.note.flush();
    const was = standing(keeper, mark);
    const now = was && remade(was);
    if (was && now && now !== was) keeper.do([putChange(keeper, now, was)]);
  };
  const does = useStable({
    onWords: (note: MarginMark, text: string) => words.note.type(note.id, text),
    onRemove: (note: MarginMark) => hold.takeAway([note]),
    onFold: (note: MarginMark) => {
      hold.letGo();
      paper.fold(note.id);
    },
    onRemake: (note: MarginMark, now: MarginMark) =>
      remake(note, (was) => ('words' in now && 'words' in was ? { ...now, words: was.words } : now)),
    /** Every other place where the same words stand, in the order they are read. */
    placesLike: (note: Suggestion | PatternNote): NotePlace[] => {
      if (!('quote' in note.place)) return [];
      const { start, end } = note.place.quote;
      const taken = new Set(
        marks.shown.flatMap((m) =>
          m.id !== note.id && isSuggestion(m) ? [`${m.document} ${m.page} ${m.place.quote.start}`] : [],
        ),
      );
      return repetitionsOf(note.place.quote.exact, pages).filter(({ document, page, place }) => {
        if (place.on !== 'passage') return false;
        const here = document === note.document && page === note.page;
        return (
          !(here && place.quote.start < end && start < place.quote.end) &&
          !taken.has(`${document} ${page} ${place.quote.start}`)
        );
      });
    },
    addPlaces: (note: MarginMark, places: readonly NotePlace[]) =>
      remake(note, (was) => standsAlso(was as PatternNote, places)),
    letFind: (note: Suggestion, places: readonly NotePlace[]) => {
      words.note.flush();
      const made = findYourself(
        note,
        places,
        newId<MarkId>(),
        note.reason ? `${note.reason}\n${FIND_IT}` : FIND_IT,
      );
      if (made) keeper.do([putChange(keeper, made, null)]);
    },
    gather: () => {
      hold.letGo();
      const { gone, come, now } = gatherAlike(marks.shown, () => newId<MarkId>(), FIND_IT);
      keeper.do([...exchange(keeper, gone, come), ...now.map((n) => putChange(keeper, n.now, n.was))]);
    },
    beginAdding: (note: MarginMark) => setAdding((before) => (before === note.id ? null : note.id)),
    endAdding: () => setAdding(null),
    /** A mark that a pen made: while places are added, one more place of the note in hand. */
    make: (mark: Mark) => {
      const note = adding && marks.shown.find((m) => m.id === adding);
      if (!note || !canStandElsewhere(mark)) return hold.make(mark);
      does.addPlaces(note as MarginMark, [{ document: mark.document, page: mark.page, place: mark.place }]);
    },
    walkPlaces: (note: MarginMark) => {
      const places = note.kind === 'note' ? [note, ...(note.also ?? [])] : [note];
      const at = (lastPlace.get(note.id) ?? 0) + 1;
      lastPlace.set(note.id, at);
      const place = places[at % places.length]!;
      paper.bring({ ...note, ...place } as MarginMark);
    },
  });
  const note = adding && marks.shown.find((m) => m.id === adding);
  /** While places are added, the pen that adds them. */
  const pen: Pen | null = note
    ? { tool: 'note', name: 'one more', colour: note.colour, focus: note.focus }
    : null;
  return { adding: note ? adding : null, pen, does };
}

/** At which of its places each pattern note was looked at last. */
const lastPlace = new Map<string, number>();

export type DeskNotes = ReturnType<typeof useDeskNotes>;
