import type { BankShape, CopyChange, CopyId, HandInId, MarkingChange, Work } from '@jotmark/core';
import { call } from '../api/call.ts';
import { copyOfAlone } from './alone.ts';
import type { BytesToSend } from './kept-bytes.ts';
import { isRefusal } from './lane.ts';
import type { BankLetter, HeardLetter, OpenedLetter, WordLetter } from './letter.ts';
import { sendOlderBytes } from './older-bytes.ts';
import { copyOfOwn, isTrial } from './own-sheet.ts';
import type { Post } from './sheet-keeper.ts';

/** How the changes of a marking travel: what they name goes before them. */
export const markingPost = (bytes: BytesToSend): Post => ({
  async send(id, changes) {
    await sendOlderBytes(changes);
    await bytes.sendFor(changes);
    const body = { changes: changes as MarkingChange[] };
    const copyId = copyOfAlone(id);
    return copyId
      ? call('sendCopyMarking', { params: { copyId }, body })
      : call('sendChanges', { params: { handInId: id as HandInId }, body });
  },
  since(id, after) {
    const copyId = copyOfAlone(id);
    return copyId
      ? call('copyMarkingSince', { params: { copyId }, query: { after } })
      : call('changesSince', { params: { handInId: id as HandInId }, query: { after } });
  },
});

/** How a student's copy travels, and the handing in of it behind what was written. */
export function copyPost(told: {
  handedIn(copyId: CopyId, work: Work, waited: boolean): void;
  refused(copyId: CopyId, error: unknown): void;
}): Post {
  return {
    send: (id, changes) =>
      call('sendCopyChanges', {
        params: { copyId: copyOfOwn(id) },
        body: { changes: changes as CopyChange[] },
      }),
    since: (id, after) => call('copyChangesSince', { params: { copyId: copyOfOwn(id) }, query: { after } }),
    async sendOther(id, letter, waited) {
      const copyId = copyOfOwn(id);
      if (letter.type !== 'hand-in') return;
      try {
        const work = await call('handIn', {
          params: { copyId },
          // The device's time goes along only when it had to wait.
          body: { id: letter.id, cover: letter.cover, claimedAt: waited ? letter.claimedAt : null },
        });
        told.handedIn(copyId, work, waited);
      } catch (error) {
        if (!isRefusal(error)) throw error;
        told.refused(copyId, error);
      }
    },
  };
}

/** How a teacher's sheets travel: markings, and their own copies in trial runs. */
export const teacherPost = (marking: Post, own: Post): Post => ({
  send: (id, changes) => (isTrial(id) ? own : marking).send(id, changes),
  since: (id, after) => (isTrial(id) ? own : marking).since(id, after),
  ...(own.sendOther && { sendOther: own.sendOther }),
});

/** Says words on a copy; gives the conversation as it stands then. */
export const sendWord = (copyId: CopyId, { id, words, place, act }: WordLetter) =>
  call('say', { params: { copyId }, body: { id, words, ...(place && { place }), ...(act && { act }) } });

/** How far something was heard. What was recalled meanwhile is nobody's to hear. */
export async function sendHeard({ handBackId, file, reached, left }: HeardLetter): Promise<void> {
  try {
    await call('heard', { params: { handBackId, file }, body: { reached, left } });
  } catch (error) {
    if (!isRefusal(error)) throw error;
  }
}

/** Which notes were opened; gives how many must still be before the grade shows. What was recalled meanwhile is nobody's to open. */
export async function sendOpened({ handBackId, marks }: OpenedLetter): Promise<number | null> {
  try {
    return (await call('opened', { params: { handBackId }, body: { marks } })).closed;
  } catch (error) {
    if (!isRefusal(error)) throw error;
    return null;
  }
}

/** What was done with the bank; gives the bank as it stands then, where it is told. */
export async function sendToBank(letter: BankLetter): Promise<BankShape | null> {
  if (letter.type === 'phrase') return call('keepPhrases', { body: { phrases: [letter.phrase] } });
  const { id, handInId, phraseId, markId, questionId } = letter;
  await call('usePhrase', { params: { handInId, phraseId }, body: { id, markId, questionId } });
  return null;
}
