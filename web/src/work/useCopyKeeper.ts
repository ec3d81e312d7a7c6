import { type CopyId, type CopyState, EMPTY_SHEET } from '@jotmark/core';
import { outbox } from '../outbox/outbox.ts';
import type { KeptState } from '../outbox/sheet-keeper.ts';
import { useSheetKeeper } from '../outbox/useSheetKeeper.ts';

function keptState({ seq, marks, answers, texts }: CopyState): KeptState {
  return {
    seq,
    sheet: {
      ...EMPTY_SHEET,
      marks: new Map(marks.map((m) => [m.id, { value: m.mark, version: m.version }])),
      answers: new Map(answers.map((a) => [a.question, { value: a.value, version: a.version }])),
      texts: new Map(texts.map((t) => [t.question, [t.update]])),
    },
  };
}

/** The keeper of a student's own copy, as the desk keeps a marking. */
export const useCopyKeeper = (copyId: CopyId, state: CopyState) =>
  useSheetKeeper(outbox.ownSheet(copyId), () => keptState(state));
