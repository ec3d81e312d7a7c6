import {
  inReadingOrder,
  isMarginMark,
  type Mark,
  type MarkKind,
  recordingOf,
  spokenWords,
} from '@jotmark/core';
import { describeMark } from './describe.ts';

/** What kinds are told apart when one looks for marks: a note that is spoken is one of its own. */
export type LookedFor = MarkKind | 'voice';
const kindOf = (mark: Mark): LookedFor => (recordingOf(mark) ? 'voice' : mark.kind);

/** Which marks are looked for; null and '' ask for nothing. */
export interface Wanted {
  readonly kind: LookedFor | null;
  /** null: any; '': about nothing special. */
  readonly focus: string | null;
  readonly words: string;
}

export const ANY: Wanted = { kind: null, focus: null, words: '' };

/** Letters without their accents and in one case: who searches types as it is quick. */
const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLocaleLowerCase();

const answersTo = (mark: Mark): string =>
  isMarginMark(mark) ? (mark.replies ?? []).map((reply) => `${reply.by} ${reply.said}`).join(' ') : '';

const saidIn = (mark: Mark): string => {
  const recording = recordingOf(mark);
  return recording ? spokenWords(recording) : '';
};

/** The marks that are wanted, in reading order. Words are looked for in what a mark says and in what it is about. */
export function chooseMarks(marks: readonly Mark[], wanted: Wanted): Mark[] {
  const words = plain(wanted.words.trim());
  return inReadingOrder(marks).filter(
    (mark) =>
      (wanted.kind === null || kindOf(mark) === wanted.kind) &&
      (wanted.focus === null || (mark.focus ?? '') === wanted.focus) &&
      (words === '' ||
        plain(`${describeMark(mark)} ${mark.focus ?? ''} ${answersTo(mark)} ${saidIn(mark)}`).includes(
          words,
        )),
  );
}

/** Kinds and focuses that are there, to choose from, each once. */
export function thereAre(marks: readonly Mark[]): {
  readonly kinds: LookedFor[];
  readonly focuses: string[];
} {
  return {
    kinds: [...new Set(marks.map(kindOf))],
    focuses: [...new Set(marks.map((m) => m.focus ?? ''))].sort(),
  };
}
