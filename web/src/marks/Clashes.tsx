import {
  clockOf,
  formatPoints,
  type Mark,
  markOf,
  type QuestionId,
  type Sheet,
  type SlipField,
  type SlipValue,
} from '@jotmark/core';
import type { Clash } from '../outbox/device.ts';
import { describeMark } from './describe.ts';
import { describeScore, describeScoreOf } from './describe-change.ts';

interface Props {
  readonly clashes: readonly Clash[];
  readonly sheet: Sheet;
  /** How an answer's question is called; only where there are answers. */
  questionName?(question: QuestionId): string;
  onSettle(clash: Clash, choice: 'mine' | 'theirs'): void;
}

function markWords(mark: Mark | null | undefined): string {
  if (!mark) return 'deleted';
  return mark.kind === 'note' ? `“${mark.words}”` : describeMark(mark);
}

const said = (value: string) => (value === '' ? 'nothing' : `“${value}”`);

function versions(
  clash: Clash,
  sheet: Sheet,
  questionName: (question: QuestionId) => string,
): { what: string; mine: string; theirs: string } {
  const { mine } = clash;
  if (mine.type === 'answer')
    return {
      what: `The answer to ${questionName(mine.question)}`,
      mine: said(mine.value),
      theirs: said(sheet.answers.get(mine.question)?.value ?? ''),
    };
  if (mine.type === 'text')
    return {
      what: `Something written into the text of ${questionName(mine.question)}`,
      mine: 'what you wrote',
      theirs: 'the text without it',
    };
  if (mine.type === 'score')
    return {
      what: `A score (${describeScoreOf(mine.of)})`,
      mine: describeScore(mine.value),
      theirs: describeScore(sheet.scores.get(mine.of)?.value),
    };
  if (mine.type !== 'write') {
    const now = sheet.marks.get(markOf(mine))?.value;
    const kind = (mine.type === 'put' ? mine.mark : mine.was)?.kind;
    const what = kind === 'note' ? 'This note' : 'This mark';
    return { what, mine: mine.type === 'put' ? markWords(mine.mark) : 'deleted', theirs: markWords(now) };
  }
  const { field } = mine;
  const say = SLIP_SAYS[field] as (value: unknown) => string;
  return { what: SLIP_NAMES[field], mine: say(mine.value), theirs: say(sheet.slip[field].value) };
}

const SLIP_NAMES: Readonly<Record<SlipField, string>> = {
  grade: 'The grade',
  own: 'The grades of single members',
  closing: 'The closing words',
  voice: 'The voice note about the whole copy',
  done: 'Whether the copy is marked',
  lifted: 'Whether lateness counts',
  midway: 'The words of the midway round',
  second: 'The second opinion',
  became: 'What became of earlier notes',
};

const SLIP_SAYS: { readonly [F in SlipField]: (value: SlipValue<F>) => string } = {
  grade: (value) => (value === null ? 'no grade' : formatPoints(value)),
  own: (value) =>
    Object.values(value ?? {})
      .map((g) => formatPoints(g))
      .join(', ') || 'all the same',
  closing: (value) => `“${value}”`,
  voice: (value) => (value === null ? 'nothing recorded' : `recorded, ${clockOf(value.ms)}`),
  done: (value) => (value ? 'marked' : 'not marked yet'),
  lifted: (value) => (value ? 'lateness lifted' : 'lateness counts'),
  midway: (value) => `“${value}”`,
  second: (value) => (value === null ? 'none' : formatPoints(value.grade)),
  became: (value) => `${Object.keys(value ?? {}).length} looked at`,
};

const REFUSED = {
  'above-most': 'is more than can be earned',
  ungraded: 'was not taken: this work has no grade',
  'handed-back': 'was not taken: this copy was handed back in the meantime',
  'no-such-page': 'was not taken: the page is not there any more',
  'bad-input': 'was not taken by the server',
  'taken-back': 'was not taken: the student has taken the copy back',
  'still-open':
    'was not taken: the student can still take the copy back. End taking back, then write it again',
  'handed-in': 'was not taken: the copy was handed in meanwhile. You can take it back and write it again',
  'no-such-question': 'was not taken: the question is not there any more',
  'no-text': 'was not taken: nobody can read it',
  'text-full': 'was not taken: the text is as long as a text can be',
  'no-such-picture': 'was not taken: its picture is not on the server. Choose the picture again',
  'no-such-voice': 'was not taken: its recording is not on the server. Record it again',
  'not-yours': 'was not taken: it is not yours to change',
} as const;

/** A change made in two places is a choice, never swallowed. Both versions are here until one is taken. */
export function Clashes({ clashes, sheet, questionName = String, onSettle }: Props) {
  if (clashes.length === 0) return null;
  return (
    <section
      className="absolute inset-x-0 top-0 z-30 mx-auto max-w-2xl space-y-2 p-3"
      aria-label="Changed in two places"
    >
      {clashes.map((clash) => {
        const { what, mine, theirs } = versions(clash, sheet, questionName);
        const refused = clash.why === 'conflict' ? null : REFUSED[clash.why];
        return (
          <div
            key={clash.subject}
            role="alert"
            className="rounded-lg border border-caution bg-raised p-4 shadow-lg"
          >
            {refused ? (
              <>
                <p>
                  {what}, {mine}, {refused}. It is kept here until you discard it.
                </p>
                <div className="mt-3 flex gap-2">
                  <button type="button" className="quiet" onClick={() => onSettle(clash, 'theirs')}>
                    Discard it
                  </button>
                </div>
              </>
            ) : (
              <>
                <p>{what} was changed in two places.</p>
                <dl className="mt-2 grid grid-cols-[5rem_1fr] gap-1 text-sm">
                  <dt className="text-soft">here</dt>
                  <dd className="break-words">{mine}</dd>
                  <dt className="text-soft">elsewhere</dt>
                  <dd className="break-words">{theirs}</dd>
                </dl>
                <div className="mt-3 flex gap-2">
                  <button type="button" className="quiet" onClick={() => onSettle(clash, 'mine')}>
                    Keep what was done here
                  </button>
                  <button type="button" className="quiet" onClick={() => onSettle(clash, 'theirs')}>
                    Keep what was done elsewhere
                  </button>
                </div>
              </>
            )}
          </div>
        );
      })}
    </section>
  );
}
