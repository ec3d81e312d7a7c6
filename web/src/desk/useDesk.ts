import { type Desk, isMarkingPen, type MarginMark, type Mark, momentOf, type PileRow } from '@jotmark/core';
import { useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useAhead } from '../ahead/ahead.ts';
import { useFind } from '../beside/useFind.ts';
import { jumpTo } from '../film/jump.ts';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { useStable } from '../frame/useStable.ts';
import { useDeskLayout } from '../layout/useDeskLayout.ts';
import { exchange, standing } from '../outbox/changes.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import type { TraysInHand } from '../pens/useTrays.ts';
import { useAfterPaint } from './useAfterPaint.ts';
import { useChangeAgain } from './useChangeAgain.ts';
import { useDeskHand } from './useDeskHand.ts';
import { useDeskLine } from './useDeskLine.ts';
import { useDeskLook } from './useDeskLook.ts';
import { useDeskMarks } from './useDeskMarks.ts';
import { useDeskNotes } from './useDeskNotes.ts';
import { useDeskPaper } from './useDeskPaper.ts';
import { useDeskPhrases, usePhraseInHand } from './useDeskPhrases.ts';
import { useDeskScoring } from './useDeskScoring.ts';
import { useLeftAt } from './useLeftAt.ts';
import { useMarkWanted } from './useMarkWanted.ts';
import { useNames } from './useNames.ts';
import { usePilePlace } from './usePilePlace.ts';
import { useStanding } from './useStanding.ts';
import { useTurnPage } from './useTurnPage.ts';
import { useTyping } from './useTyping.ts';
import { useVoice } from './useVoice.ts';

/** All that one copy on the desk is made of, and the moves that touch several parts of it. The parts are hooks of their own; here they meet. */
export function useDesk(desk: Desk, keeper: SheetKeeper) {
  const me = useHere().session.person!.id;
  const readOnly = desk.handedBack;
  const [layout, lay] = useDeskLayout();
  const pulled = (part: keyof typeof layout.sizes) => (to: number) =>
    lay({ sizes: { ...layout.sizes, [part]: to } });
  const sizes = useStable({
    slip: pulled('slip'),
    strip: pulled('strip'),
    margin: pulled('margin'),
    beside: pulled('beside'),
  });
  const stands = useStanding(keeper, readOnly);
  const words = useTyping(desk, keeper, me);
  const paper = useDeskPaper(desk, layout, sizes.margin);
  const marks = useDeskMarks({ desk, keeper, stands, words, paper });
  const notes = useDeskNotes({ keeper, paper, marks, words });
  const hand = useDeskHand({ desk, me, keeper, fixed: stands.fixed, paper, marks, notes });
  const voice = useVoice({
    desk,
    me,
    keeper,
    fixed: stands.fixed,
    paper,
    marks,
    hand,
    flush: words.note.flush,
  });
  const phrases = useDeskPhrases({
    desk,
    focuses: marks.focuses,
    pen: isMarkingPen(hand.own) ? hand.own : null,
    put: marks.hold.lay,
    putInk: (note, strokes) => {
      const begun = standing(keeper, note);
      marks.hold.letGo();
      keeper.do(exchange(keeper, begun ? [begun] : [], strokes));
    },
    onLike: (note, like) => note.kind === 'note' && notes.does.onRemake(note, like(note)),
  });
  usePhraseInHand(hand, notes, phrases);
  const place = usePilePlace(desk);
  const finding = useFind(paper.texts, paper.bring);
  const turning = useTurnPage(paper.stack.turnsOf, keeper);
  const [keySheet, setKeySheet] = useState(false);
  const [twoSides, setTwoSides] = useState(false);
  const [bankOut, setBankOut] = useState(false);
  const fields = useSlipFields();
  useLeftAt(desk, keeper, paper.scroller, paper.ready && paper.measured, paper.pageNow);
  useAhead(place.next?.copyId, paper.ready);

  const navigate = useNavigate();
  const { hold } = marks;
  const settle = () => {
    hold.letGo();
    words.closing.flush();
  };
  const go = (row: PileRow | null) => {
    settle();
    if (row) navigate(`/desk/${row.copyId}`);
  };
  const setDone = (done: boolean, goOn: boolean) => {
    words.note.flush();
    words.closing.flush();
    keeper.write('done', done);
    if (!goOn) return;
    if (place.nextWaiting) return go(place.nextWaiting);
    toast.success('That was the last one: all copies that are in are marked.');
    navigate(`/piles/${desk.assignment.id}`);
  };
  const back = (how: 'undo' | 'redo') => {
    settle();
    hand.pad.current?.giveUp();
    const touched = turning[how]() ? undefined : keeper[how]().at(-1);
    if (touched && 'mark' in touched) paper.bring(touched.mark);
  };
  const does = useStable({
    onUndo: () => back('undo'),
    onRedo: () => back('redo'),
    onBefore: () => go(place.before),
    onNext: () => go(place.next),
    onChangeAgain: useChangeAgain(desk),
    onBeside: () => setTwoSides(!twoSides),
    onKeys: () => setKeySheet(true),
    onPage: paper.toPage,
    onClosing: (text: string) => words.closing.type('closing', text),
    onDone: setDone,
    onPick: (mark: Mark, edit = false) => {
      hold.pick([mark], { edit });
      const at = momentOf(mark);
      if (at === null || !jumpTo(mark.document, at)) paper.bring(mark);
    },
    onActivate: (note: MarginMark | null, edit: boolean) =>
      note ? hold.pick([note], { edit }) : hold.letGo(),
    onLookBack: () => {
      settle();
      stands.lookBack(stands.looksBack ? 'closed' : 'now');
    },
    onGather: () => notes.does.gather(),
    onBank: () => setBankOut(!bankOut),
    take: (key: string) => {
      notes.does.endAdding();
      phrases.arm(null);
      hand.trays?.take(key);
      hand.cursor.putAway();
    },
  });
  useMarkWanted(paper.ready && paper.measured, stands.standing, does.onPick);
  const { look, saidHere } = useDeskLook(desk, { paper, marks, notes, fixed: stands.fixed });
  // The tray is made anew only when a pen is taken or changed, not with every mark.
  const trayHand = useMemo(
    (): TraysInHand | null => hand.trays && { ...hand.trays, take: does.take },
    [hand.trays?.trays, hand.trays?.taken, does],
  );
  return {
    gone: useDeskLine(desk, keeper),
    names: useNames(desk, paper.pages),
    desk,
    keeper,
    readOnly,
    layout,
    lay,
    sizes,
    stands,
    words,
    paper,
    marks,
    hand,
    trayHand,
    notes,
    phrases,
    voice,
    place,
    scoring: useDeskScoring(desk, keeper, marks, paper),
    finding,
    turning,
    keySheet,
    closeKeys: () => setKeySheet(false),
    twoSides,
    bankOut,
    fields,
    setDone,
    go,
    does,
    look,
    saidHere,
    /** Everything but the paper is laid out when the paper is seen. */
    paperSeen: useAfterPaint(paper.measured || paper.without),
  };
}

/** The fields that keys lead to. */
const useSlipFields = () =>
  useRef({
    grade: { current: null as HTMLInputElement | null },
    closing: { current: null as HTMLTextAreaElement | null },
  }).current;

/** One copy on the desk, with all that belongs to it. */
export type DeskNow = ReturnType<typeof useDesk>;
