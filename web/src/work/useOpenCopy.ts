import {
  coverOf,
  type HandInId,
  overlaps,
  type PersonId,
  type Question,
  type QuestionId,
  takeOnAnswers,
  type Work,
} from '@jotmark/core';
import { useCallback, useState } from 'react';
import { PHONE, useMedia } from '../frame/useMedia.ts';
import { newId } from '../outbox/new-id.ts';
import type { KeeperView, SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useKept } from '../outbox/useSheetKeeper.ts';
import { useAnswers, useUnanswered } from './useAnswers.ts';
import { useCopyHand } from './useCopyHand.ts';
import { useCopyKeys } from './useCopyKeys.ts';
import { useCopyPages } from './useCopyPages.ts';
import { useWordsAtOnce } from './useWordsAtOnce.ts';
import { useWriting } from './useWriting.ts';

/** Below this width a field on the page is too small to type in. */

const all = (view: KeeperView) => view;

/** All that a copy being filled in is made of; its parts are hooks of their own. */
export function useOpenCopy(work: Work, keeper: SheetKeeper, personId: PersonId) {
  const kept = useKept(keeper, all);
  const { copyId } = work.row;
  const copy = useCopyPages(work);
  const answers = useAnswers(keeper, personId, copyId);
  const writing = useWriting(copy.onlyLong);
  const [active, setActive] = useState<QuestionId | null>(null);
  const phone = useMedia(PHONE);
  // A copy that is on its way stands as it was when it was handed in.
  const readOnly = kept.others.length > 0;
  const { sheet } = kept;
  const hand = useCopyHand({ keeper, sheet, copy, readOnly });
  const back = (how: 'undo' | 'redo') => {
    if (readOnly || writing.back(how)) return;
    answers.flush();
    hand.giveUp();
    keeper[how]();
  };
  useCopyKeys({
    undo: () => back('undo'),
    redo: () => back('redo'),
    takePen: hand.takePen,
    remove: hand.removePicked,
    nudge: hand.nudge,
    letGo: hand.letGo,
  });
  const { shown } = hand;
  const drawnOn = useCallback(
    (q: Question) => {
      const document = work.sheets.find((s) => s.questions.includes(q))?.document.id;
      return shown.some((m) => m.document === document && m.page === q.page && overlaps(coverOf(m), q.box));
    },
    [shown, work.sheets],
  );
  const unanswered = useUnanswered(copy.questions, sheet, writing.words, drawnOn);
  const activeAt = copy.typed.findIndex((q) => q.id === active);
  return {
    work,
    personId,
    writing,
    keeper,
    kept,
    copy,
    hand,
    answers,
    phone,
    readOnly,
    /** It is handed in here and not yet with the teacher. */
    waits: readOnly && kept.save !== 'saving',
    saving: (answers.pending || writing.pending) && kept.save === 'saved' ? ('saving' as const) : kept.save,
    back,
    ...useWordsAtOnce(
      copyId,
      (mark) => {
        answers.flush();
        const now = new Map([...keeper.view.sheet.answers].map(([q, a]) => [q, a.value] as const));
        for (const [q, writer] of writing.writers) now.set(q, writer.plain());
        const taken = readOnly ? null : takeOnAnswers(mark, now);
        if (!taken?.ok) return false;
        const writer = writing.writers.get(taken.question);
        if (writer) writer.rewrite(taken.text);
        else keeper.answer(taken.question, taken.text, `accept:${mark.id}`);
        return true;
      },
      work.together ? () => void keeper.catchUp() : undefined,
    ),
    answerAt: (id: QuestionId) => sheet.answers.get(id)?.value ?? '',
    unanswered: unanswered.map((u) => ({ ...u, number: copy.numbers.get(u.id) ?? '' })),
    activeAt,
    active: copy.typed[activeAt] ?? null,
    setActive,
    onFocus: useCallback((q: Question) => setActive(q.id), []),
    async handIn(cover: string) {
      answers.flush();
      writing.flush();
      // All that was written goes first; with no network both wait on this device, in this order.
      keeper.thenSend({ type: 'hand-in', id: newId<HandInId>(), cover, claimedAt: Date.now() });
      await settledOrAway(keeper);
    },
  };
}

export type OpenCopyNow = ReturnType<typeof useOpenCopy>;

/** Waits until all is saved, or it is known that there is no network now. */
function settledOrAway(keeper: SheetKeeper): Promise<void> {
  return new Promise((resolve) => {
    let off = () => {};
    const look = () => {
      if (keeper.view.save === 'saving') return;
      off();
      resolve();
    };
    off = keeper.subscribe(look);
    look();
  });
}
