import {
  type ChangeId,
  fitOf,
  isSuggestion,
  type MarginMark,
  type QuestionId,
  type Suggestion,
  takeOnAnswers,
  takeSuggestion,
  type Work,
} from '@jotmark/core';
import { useState } from 'react';
import { useTell } from '../ask/stale.ts';
import { sayAt } from '../conversation/TalkAt.tsx';
import type { Talk } from '../conversation/talk.ts';
import { toast } from '../frame/toast.ts';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';

const ACT = 'quiet !min-h-7 !px-2 !py-0.5 text-[13px]';

interface Props {
  readonly work: Work;
  readonly note: MarginMark;
  readonly talk: Talk;
  readonly settled: boolean;
  /** Its words stand in a file of the student's own, which is changed elsewhere. */
  readonly inFile: boolean;
}

/** Takes a suggestion where its words stand in a text that grows, if they fit there better than in any answer. False: they do not. */
async function takenInText({ row, state }: Work, note: Suggestion): Promise<boolean> {
  if (state.texts.length === 0) return false;
  const { ClosedText } = await import('../writing/rewrite.ts');
  const { quote } = note.place;
  const elsewhere = Math.max(-1, ...state.answers.map((a) => fitOf(a.value, quote)));
  for (const { question, update } of state.texts) {
    const text = new ClosedText(update);
    if (fitOf(text.words, quote) <= elsewhere) continue;
    const taken = takeSuggestion(text.words, note);
    const made = taken.ok ? text.rewrite(taken.text) : null;
    if (made === null) continue;
    const id = newId<ChangeId>();
    await outbox.put(outbox.ownSheet(row.copyId), [{ id, base: null, type: 'text', question, update: made }]);
    return true;
  }
  return false;
}

/**
 * What a student does with a note or a suggestion. Accepting a change of wording really makes it in the next draft, where its words are typed; in a file
 * it stays among what is to be done until the student says that it is.
 */
export function SuggestionActs({ work, note, talk, settled, inFile }: Props) {
  const tellOf = useTell();
  const [gone, setGone] = useState(false);
  const [why, setWhy] = useState<string | null>(null);
  const { copyId } = work.row;
  if (settled)
    return (
      <button type="button" className={ACT} onClick={() => sayAt(copyId, note, '', 'reopened')}>
        Reopen
      </button>
    );
  if (!isSuggestion(note) || talk.act === 'accepted' || gone)
    return (
      <button type="button" className={ACT} onClick={() => sayAt(copyId, note, '', 'sorted')}>
        Sorted
      </button>
    );
  if (work.row.place === 'in-again')
    return <p className="text-soft">You have handed in again. Take it back to change your draft.</p>;
  const accept = async () => {
    if (inFile) return sayAt(copyId, note, '', 'accepted');
    const changed =
      (await takenInText(work, note)) ||
      (await outbox.changeAnswer(
        copyId,
        work.state.answers.map((a) => ({ ...a, question: a.question as QuestionId })),
        (answers) => {
          const taken = takeOnAnswers(note, answers);
          return taken.ok ? taken : null;
        },
      ));
    if (changed) {
      tellOf('copyChanged', { copyId });
      toast.success('Changed in your next draft.');
      await sayAt(copyId, note, '', 'accepted');
    } else {
      setGone(true);
      toast(
        'These words are not in your draft as they were. Nothing was changed: look there yourself, then choose “Sorted”.',
      );
    }
  };
  return (
    <>
      <button type="button" className={ACT} onClick={accept}>
        Accept
      </button>
      {why === null ? (
        <button type="button" className={ACT} onClick={() => setWhy('')}>
          Decline
        </button>
      ) : (
        <form
          className="flex w-full gap-1"
          onSubmit={(e) => {
            e.preventDefault();
            if (!why.trim()) return;
            sayAt(copyId, note, why.trim(), 'declined');
            setWhy(null);
          }}
        >
          <input
            className="field !min-h-7 min-w-0 flex-1 !px-2 !py-0.5 text-[13px]"
            aria-label="Why not?"
            placeholder="Why not?"
            maxLength={1000}
            value={why}
            onChange={(e) => setWhy(e.target.value)}
          />
          <button type="submit" className={ACT} disabled={!why.trim()}>
            Decline
          </button>
        </form>
      )}
    </>
  );
}
