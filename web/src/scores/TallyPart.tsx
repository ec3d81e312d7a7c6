import {
  type ByKey,
  byKey,
  type CopyScoring,
  formatPoints,
  formatSigned,
  nextOpen,
  pointsOn,
  type QuestionId,
  scoreOfQuestion,
  type Tally,
  type TallyLine,
  type TallyTrouble,
} from '@jotmark/core';
import { Rows3 } from 'lucide-react';
import { memo, useMemo } from 'react';
import { Link } from 'react-router';
import { useHere } from '../frame/session.tsx';
import { tip } from '../frame/tip.ts';
import type { SheetId } from '../outbox/device.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { plural } from '../time/words.ts';
import { tallyFieldId } from './ids.ts';
import { PointsField } from './PointsField.tsx';
import { readPoints } from './read-typed.ts';

interface Props {
  readonly tally: Tally;
  readonly keeper: SheetKeeper;
  readonly sheetId: SheetId;
  readonly keys: CopyScoring['keys'];
  /** What the student typed and chose, by question. */
  readonly answers: ReadonlyMap<QuestionId, string>;
  readonly readOnly: boolean;
  /** Questions of the pile whose place nobody has drawn yet; and the way to draw one. */
  readonly undrawn: ReadonlySet<QuestionId>;
  onDraw?(id: QuestionId): void;
  /** Where one question of all copies is. */
  acrossTo?(id: QuestionId): string;
  /** Shows a question where it stands. */
  onSee?(id: QuestionId): void;
}

/** What each question earned, and what all earn together; what does not add up is said at its line. */
export const TallyPart = memo(function TallyPart(p: Props) {
  const { tally } = p;
  const earning = tally.lines.filter((l) => l.question.most !== null);
  if (earning.length === 0) return null;
  const all = tally.scored + tally.open.length;
  const goOn = (from: QuestionId) => {
    const next = nextOpen(tally, from);
    const el = next && next !== from ? document.getElementById(tallyFieldId(next)) : null;
    if (el) el.focus();
    else (document.activeElement as HTMLElement | null)?.blur();
  };
  return (
    <section className="mt-3" aria-label="Points by question">
      <ul className="border-t border-dashed border-line-strong">
        {earning.map((line) => (
          <Line key={line.question.id} p={p} line={line} onEnter={() => goOn(line.question.id)} />
        ))}
      </ul>
      <p className="flex items-baseline gap-2 py-2 text-soft">
        <span>{tally.open.length ? 'Points so far' : 'Points'}</span>
        <span className="ml-auto tabular">
          <b className="text-[17px] text-text">{formatPoints(tally.sum)}</b> / {formatPoints(tally.most)}
        </span>
      </p>
      <p className="text-[13px] text-soft">
        {tally.open.length > 0 && (
          <>
            {tally.scored} of {all} marked
            {!p.readOnly && (
              <>
                {' · '}
                <span className="key">u</span> the next open one
              </>
            )}
          </>
        )}
      </p>
      {tally.outside.length > 0 && (
        <p className="mt-1 text-[13px] text-caution">
          {plural(tally.outside.length, 'mark', 'marks')} with points ({sumOf(tally)}) at no question:{' '}
          {tally.outside.length === 1 ? 'it counts' : 'they count'} nowhere. Pick one and press{' '}
          <span className="key">z</span> to give it to a question.
        </p>
      )}
    </section>
  );
});

const sumOf = (tally: Tally): string => tally.outside.map((m) => formatSigned(pointsOn(m)!)).join(', ');

function Line({ p, line, onEnter }: { p: Props; line: TallyLine; onEnter(): void }) {
  const { question, typed, marked, troubles } = line;
  const { keeper, readOnly } = p;
  const me = useHere().session.person!.id;
  const most = question.most!;
  const of = scoreOfQuestion(question.id);
  const key = p.keys[question.id];
  const answer = p.answers.get(question.id);
  const said = useMemo(
    () => (key && answer !== undefined ? byKey(key, answer, most) : null),
    [key, answer, most],
  );
  const give = (value: number | null) =>
    keeper.score(of, value === null ? null : { of: 'question', points: value });
  const offered = line.points === null && !readOnly ? (said?.offers ?? null) : null;
  return (
    <li className="border-b border-dashed border-line-strong py-0.5">
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="flex min-w-0 flex-1 items-baseline gap-3 text-left hover:text-action"
          aria-label={`Show question ${question.label}`}
          onClick={() => p.onSee?.(question.id)}
        >
          <b className="w-6 shrink-0">{question.label}</b>
          <span className="truncate text-[13px] text-soft">{question.name || sourceOf(line)}</span>
        </button>
        {p.acrossTo && (
          <Link
            to={p.acrossTo(question.id)}
            className="text-soft opacity-50 hover:text-action hover:opacity-100 focus:opacity-100"
            aria-label={`Question ${question.label} across the class`}
            {...tip('This question of all copies, one below the other')}
          >
            <Rows3 size={15} aria-hidden="true" />
          </Link>
        )}
        {p.onDraw && p.undrawn.has(question.id) && !readOnly && (
          <button
            type="button"
            className="text-[13px] text-action hover:underline"
            {...tip('Draw a frame round it once; on the other copies it is found by what is printed there')}
            onClick={() => p.onDraw?.(question.id)}
          >
            Draw its place
          </button>
        )}
        {offered !== null && (
          <button
            type="button"
            className="rounded bg-action-wash px-1.5 text-[13px] text-action hover:underline"
            aria-label={`Accept ${formatPoints(offered)} for question ${question.label}, by the key`}
            {...tip('By the key. Enter in the empty field takes it.')}
            onClick={() => give(offered)}
          >
            key: {formatPoints(offered)}
          </button>
        )}
        <PointsField
          label={`Points of question ${question.label}`}
          id={tallyFieldId(question.id)}
          className={`field !min-h-8 !w-14 !px-1.5 !py-0 text-right font-bold tabular ${line.points === null ? '!border-dashed' : '!border-transparent hover:!border-line-strong'}`}
          place={`jotmark.points.${me}.${p.sheetId}.${question.id}`}
          value={line.points}
          readOnly={readOnly}
          read={(text) => readPoints(text, most)}
          show={formatPoints}
          onValue={give}
          onEnter={onEnter}
          onEmpty={() => {
            if (offered === null) return false;
            give(offered);
            return true;
          }}
        />
        <span className="w-9 text-soft tabular">/ {formatPoints(most)}</span>
      </div>
      {said && said.verdict !== 'right' && line.points === null && (
        <p className="ml-9 text-[13px] text-soft">{VERDICTS[said.verdict]}</p>
      )}
      {troubles.map((t) => (
        <p key={t.what} className="ml-9 text-[13px] text-caution">
          {troubleWords(t)}
          {typed !== null && marked !== null && !readOnly && (
            <>
              {' '}
              <button type="button" className="underline" onClick={() => give(null)}>
                Use the points on the page
              </button>
            </>
          )}
        </p>
      ))}
    </li>
  );
}

/** Where the points of a line come from. */
function sourceOf({ typed, marks, points }: TallyLine): string {
  if (typed !== null) return 'typed';
  if (marks.length) return marks.map((m) => formatSigned(pointsOn(m)!)).join(' ');
  return points === null ? 'open' : '';
}

const VERDICTS: Readonly<Record<Exclude<ByKey['verdict'], 'right'>, string>> = {
  part: 'some of it, by the key',
  'other-unit': 'the number is right, the unit is not',
  wrong: 'does not match the key',
  empty: 'nothing was written',
};

/** What does not add up at a question, in a sentence. */
export function troubleWords(t: TallyTrouble): string {
  switch (t.what) {
    case 'above-most':
      return `${formatPoints(t.given)} were given, more than the ${formatPoints(t.most)} it can earn; ${formatPoints(t.most)} count.`;
    case 'below-zero':
      return `The points on the page come to less than 0; 0 counts.`;
    case 'typed-differs':
      return `${formatPoints(t.typed)} typed, but the page says ${formatSigned(t.marked)}; what was typed counts.`;
  }
}
