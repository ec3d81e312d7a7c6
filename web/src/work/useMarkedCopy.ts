import {
  type CopyId,
  closedOf,
  type HandBackShape,
  inReadingOrder,
  isMarginMark,
  type MarginMark,
  momentOf,
  opens,
} from '@jotmark/core';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { isSettled, NO_TALK, type Talk, type Typed, talksOf } from '../conversation/talk.ts';
import { useMessages } from '../conversation/useMessages.ts';
import { jumpTo } from '../film/jump.ts';
import { outbox } from '../outbox/outbox.ts';

/** What of a hand-back its student has opened: known here at once, kept on this device, sent like everything. `on` is false where nobody opens it: the teacher looks. */
function useOpened(handBack: HandBackShape, on: boolean) {
  const { id, snapshot } = handBack;
  const [opened, setOpened] = useState<ReadonlySet<string>>(() => new Set(handBack.opened));
  useEffect(() => {
    if (on) outbox.opened(id, []);
  }, [id, on]);
  const open = useCallback(
    (mark: MarginMark) => {
      if (!on || !opens(mark) || opened.has(mark.id)) return;
      setOpened(new Set([...opened, mark.id]));
      outbox.opened(id, [mark.id]);
    },
    [id, on, opened],
  );
  return { open, closed: handBack.closed === 0 ? 0 : closedOf(snapshot, opened) };
}

/** A copy that came back, in the hands of who reads it: its notes in the order of reading, the one that is open, what was done with each. */
export function useMarkedCopy(copyId: CopyId, handBack: HandBackShape, preview: boolean) {
  const { snapshot } = handBack;
  const [search] = useSearchParams();
  const wanted = search.get('mark');
  const scroller = useRef<HTMLDivElement>(null);
  const notes = useMemo(() => inReadingOrder(snapshot.marks).filter(isMarginMark), [snapshot]);
  const said = useMessages(copyId);
  const talks = useMemo(() => talksOf(said ?? [], handBack.firstBackAt), [said, handBack.firstBackAt]);
  const typed: Typed = useMemo(() => new Set(handBack.filled.map((f) => f.document)), [handBack]);
  const [active, setActive] = useState<string | null>(() => notes.find((n) => n.id === wanted)?.id ?? null);
  const { open, closed } = useOpened(handBack, !preview);
  const current = notes.findIndex((n) => n.id === active);
  useEffect(() => {
    const note = notes[current];
    if (note) open(note);
  }, [notes, current, open]);
  const talkOf = (note: MarginMark): Talk => talks.get(note.id) ?? NO_TALK;
  const goTo = useCallback((note: MarginMark) => {
    setActive(note.id);
    const at = momentOf(note);
    if (at !== null && jumpTo(note.document, at)) return;
    scroller.current
      ?.querySelector(`[data-document="${note.document}"][data-page="${note.page}"]`)
      ?.scrollIntoView({ block: 'center', inline: 'nearest' });
  }, []);
  const step = (by: 1 | -1) => {
    const next = notes[current < 0 ? (by > 0 ? 0 : notes.length - 1) : current + by];
    if (next) goTo(next);
  };
  return {
    notes,
    said: said ?? [],
    typed,
    active,
    /** Its place among the notes; −1: none is open. */
    current,
    setActive,
    goTo,
    step,
    talkOf,
    settledAt: (note: MarginMark) => isSettled(talkOf(note), note, typed),
    /** How many notes must still be opened before the grade shows. */
    closed,
    scroller,
  };
}

export type MarkedCopyNow = ReturnType<typeof useMarkedCopy>;
