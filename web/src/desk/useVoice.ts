import {
  type Desk,
  isMarkingPen,
  type Mark,
  type MarkId,
  type MarkingPen,
  markAt,
  markOfDrawn,
  type NoteMark,
  type PersonId,
  type Recording,
  saysNothing,
  versionOf,
} from '@jotmark/core';
import { createElement, useEffect, useMemo, useRef } from 'react';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { useStable } from '../frame/useStable.ts';
import { standing } from '../outbox/changes.ts';
import { newId } from '../outbox/new-id.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { recorder } from '../voice/recorder-here.ts';
import type { VoicePlace } from '../voice/takes.ts';
import { VoiceButton } from '../voice/VoiceButton.tsx';
import { drawnAt, drawnUnder } from './at-pointer.ts';
import type { DeskHand } from './useDeskHand.ts';
import type { DeskMarks } from './useDeskMarks.ts';
import type { DeskPaper } from './useDeskPaper.ts';

interface Options {
  readonly desk: Desk;
  readonly me: PersonId;
  readonly keeper: SheetKeeper;
  readonly fixed: boolean;
  readonly paper: DeskPaper;
  readonly marks: DeskMarks;
  readonly hand: DeskHand;
  flush(): void;
}

/** How near to a note's place the pointer must be, in points, to mean the note. */
const REACH = 6;
/** Where a recording about the page in sight stands, in points from its top left. */
const CORNER = [26, 26] as const;

/** Talking at the desk: where a recording belongs, and what is drawn meanwhile is tied to it. */
export function useVoice({ desk, me, keeper, fixed, paper, marks, hand, flush }: Options) {
  const { standIns } = useHere().session;
  const pointer = useRef<readonly [x: number, y: number] | null>(null);
  useEffect(() => {
    const moved = (e: PointerEvent) => {
      pointer.current = [e.clientX, e.clientY];
    };
    const options = { capture: true, passive: true };
    window.addEventListener('pointermove', moved, options);
    window.addEventListener('pointerdown', moved, options);
    return () => {
      window.removeEventListener('pointermove', moved, options);
      window.removeEventListener('pointerdown', moved, options);
    };
  }, []);

  /** The pen that is in hand if it has a colour and a focus, else the first for notes. */
  const notePen = (): MarkingPen => {
    const pen = isMarkingPen(hand.own) ? hand.own : hand.pensAtKeys.find((p) => p.pen.tool === 'note')?.pen;
    const { colour, focus } = pen && isMarkingPen(pen) ? pen : { colour: 'garnet' as const, focus: null };
    return { tool: 'note', name: 'voice', colour, focus };
  };
  const onNote = (note: NoteMark): VoicePlace => ({
    of: 'note',
    note,
    // An empty one is let go of while one talks: what is said brings it back.
    isNew: saysNothing(note),
    base: versionOf(keeper.view.sheet, note.id),
  });
  const newNote = (mark: Mark | null): VoicePlace | null =>
    mark?.kind === 'note'
      ? { of: 'note', note: marks.signed(mark) as NoteMark, isNew: true, base: null }
      : null;

  const aboutCopy = (): VoicePlace => {
    const { value, version } = keeper.view.sheet.slip.voice;
    return { of: 'copy', was: value, base: version };
  };
  /** What is meant: the words that were walked to, the note in hand, what the pointer is on, or else the page in sight. */
  const meant = (): VoicePlace => {
    const pen = notePen();
    if (hand.cursor.walking) return newNote(hand.cursor.mark(pen)) ?? aboutCopy();
    const [only, second] = marks.picked;
    const held = only && !second ? standing(keeper, only) : null;
    if (held?.kind === 'note') return onNote(held);
    const make = (drawn: Parameters<typeof markOfDrawn>[0] | null) =>
      drawn && newNote(markOfDrawn(drawn, pen, newId<MarkId>(), Date.now()));
    const under = underPointer();
    const there = under && noteThere(under);
    if (there) return onNote(there);
    return make(under) ?? make(drawnAt(paper, paper.pageNow, CORNER)) ?? aboutCopy();
  };
  const underPointer = () => {
    if (!pointer.current) return null;
    const [x, y] = pointer.current;
    return drawnUnder(paper, document.elementFromPoint(x, y), x, y);
  };
  const noteThere = ({ page, at }: NonNullable<ReturnType<typeof underPointer>>): NoteMark | null => {
    const index = paper.pages.findIndex((p) => p.document === page.document && p.page === page.page);
    const mark = markAt(marks.byPage[index] ?? [], at, REACH);
    const now = mark && standing(keeper, mark);
    return now?.kind === 'note' ? now : null;
  };

  /** Tells the recorder which page is in sight. */
  const sees = useRef(() => {});
  sees.current = () => {
    const page = paper.pages[paper.pageNow];
    if (page) recorder.saw(page.document, page.page);
  };
  const begin = (place: VoicePlace, clip: boolean) => {
    flush();
    const { copyId, handIn } = desk;
    recorder
      .begin({ personId: me, copyId, handInId: handIn.id, place, clip, standIns })
      .then(() => sees.current());
  };
  // What is done with a recording when it is there is told where it was begun.
  const newest = useRef(marks);
  newest.current = marks;
  useEffect(
    () =>
      recorder.hear((news) => {
        if (news.of !== 'kept') {
          // Its sentences come with the recorder.
          import('../voice/trouble.ts').then(({ TROUBLE }) => toast(TROUBLE[news.why]));
          return;
        }
        const { place, handInId } = news.take;
        if (handInId !== desk.handIn.id || place.of !== 'note' || news.recovered) return;
        const now = keeper.view.sheet.marks.get(place.note.id)?.value;
        if (now && newest.current.picked.length === 0) newest.current.hold.pick([now]);
      }),
    [desk.handIn.id, keeper],
  );
  // Who leaves the copy has said it: it is made ready and put there all the same.
  useEffect(
    () => () => {
      if (recorder.state.take?.handInId === desk.handIn.id) recorder.end();
    },
    [desk.handIn.id],
  );
  useEffect(() => sees.current(), [paper.pages, paper.pageNow]);

  const does = useStable({
    onNote: (note: NoteMark, clip: boolean) => begin(onNote(note), clip),
    onCopy: (clip: boolean) => begin(aboutCopy(), clip),
    /** About a note that is only made by it. */
    onNew: (note: NoteMark) => begin({ of: 'note', note, isNew: true, base: null }, false),
    onSaid: (recording: Recording | null) => keeper.write('voice', recording),
    onPress: () => void press(),
  });
  /** Begins to record, or ends it. True where it began. */
  function press(place = meant): boolean {
    const { phase } = recorder.state;
    if (phase === 'recording' || phase === 'opening') {
      recorder.end();
      return false;
    }
    if (fixed) return false;
    begin(place(), false);
    return true;
  }
  return {
    press: () => press(),
    pressForCopy: () => press(aboutCopy),
    letGo: () => recorder.end(),
    idle: () => recorder.state.phase === 'idle',
    does,
    /** The same for as long as the desk stands: the tray is not made anew with every mark. */
    button: useMemo(() => createElement(VoiceButton, { onPress: does.onPress }), [does]),
  };
}

export type DeskVoice = ReturnType<typeof useVoice>;
