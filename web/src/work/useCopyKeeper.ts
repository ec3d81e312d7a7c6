import { type CopyChange, type CopyId, type CopyState, EMPTY_SHEET, type PersonId } from '@jotmark/core';
import { call } from '../api/call.ts';
import type { KeptState, Post } from '../outbox/sheet-keeper.ts';
import { useSheetKeeper } from '../outbox/useSheetKeeper.ts';

/** How a copy's changes travel; also used for what earlier sittings left on this device. */
export const copyPost: Post = {
  send: (id, changes) =>
    call('sendCopyChanges', { params: { copyId: id as CopyId }, body: { changes: changes as CopyChange[] } }),
  since: (id, after) => call('copyChangesSince', { params: { copyId: id as CopyId }, query: { after } }),
};

function keptState({ seq, marks, answers }: CopyState): KeptState {
  return {
    seq,
    sheet: {
      ...EMPTY_SHEET,
      marks: new Map(marks.map((m) => [m.id, { value: m.mark, version: m.version }])),
      answers: new Map(answers.map((a) => [a.question, { value: a.value, version: a.version }])),
    },
  };
}

/** The keeper of a student's own copy, as the desk keeps a marking. */
export function useCopyKeeper(copyId: CopyId, state: CopyState, personId: PersonId) {
  return useSheetKeeper({
    sheetId: copyId,
    personId,
    state: () => keptState(state),
    post: copyPost,
    committed: () => {},
  });
}
