import {
  type Across,
  type AcrossCopy,
  type ByKey,
  type CopyId,
  formatPoints,
  plainWords,
} from '@jotmark/core';
import { memo, useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useHere } from '../frame/session.tsx';
import { Crop } from '../paper/Crop.tsx';
import { PointsField } from '../scores/PointsField.tsx';
import { readPoints } from '../scores/read-typed.ts';
import { plural } from '../time/words.ts';
import { WordsField } from '../words/WordsField.tsx';
import type { Shown } from './shown.ts';

interface Props {
  readonly at: number;
  readonly shown: Shown;
  readonly across: Across;
  readonly here: boolean;
  readonly unfolded: boolean;
  readonly chosen: ReadonlySet<CopyId>;
  readonly offered: ByKey | null;
  readonly writing: boolean;
  readonly does: {
    here(): void;
    unfold(): void;
    choose(id: CopyId): void;
    give(points: number | null): void;
    giveOne(id: CopyId, points: number | null): void;
    tick(): void;
    write(): void;
    note(words: string): void;
  };
}

/** How wide an answer is shown, in CSS pixels. */
const WIDE = 560;
/** With so many points at most each has a button of its own. */
const BUTTONS = 6;

/** Answers that are the same: what they say, whose they are, and what all of them earn. */
export const AcrossGroup = memo(function AcrossGroup(p: Props) {
  const { shown, does, across, here } = p;
  const { copies, group } = shown;
  const one = copies[0]!;
  const some = copies.filter((c) => p.chosen.has(c.copyId)).length;
  const back = copies.filter((c) => c.handedBack).length;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: arrows go from group to group, see the view
    <li
      id={`across-${p.at}`}
      aria-current={here}
      className={`border-t border-dashed border-line px-4 py-3 [contain-intrinsic-size:auto_90px] [content-visibility:auto] ${here ? 'rounded-lg bg-paper outline-2 outline-action' : ''} ${group?.near ? 'pl-10' : ''}`}
      onClick={does.here}
    >
      <div className="flex flex-wrap items-start gap-4">
        <div className="min-w-0 flex-1">
          {group ? (
            <p className={`text-lg break-words ${group.normal ? 'text-answer' : 'text-soft'}`}>
              {group.normal ? group.shown : 'nothing written'}
            </p>
          ) : (
            <Answer copy={one} />
          )}
          <button
            type="button"
            className="text-left text-[13px] text-soft hover:text-action"
            aria-expanded={p.unfolded}
            onClick={does.unfold}
          >
            {plural(copies.length, 'copy', 'copies')} ·{' '}
            {copies
              .slice(0, 12)
              .map((c) => c.student.given || c.student.family)
              .join(', ')}
            {copies.length > 12 && ' …'}
          </button>
          {back > 0 && (
            <p className="text-[13px] text-soft">
              {plural(back, 'copy was', 'copies were')} handed back and stay as they are.
            </p>
          )}
        </div>
        <Points p={p} />
        <p className={`w-44 pt-2 text-sm ${p.offered?.verdict === 'right' ? 'text-soft' : 'text-caution'}`}>
          {p.offered && WORDS[p.offered.verdict]}
        </p>
      </div>
      {here && (
        <p className="mt-1 flex flex-wrap gap-4 text-[13px]">
          {some > 0 && (
            <span className="font-semibold">{plural(some, 'chosen copy', 'chosen copies')} only</span>
          )}
          <button type="button" className="text-action hover:underline" onClick={does.write}>
            A note for {some ? 'them' : 'the group'} <span className="key">n</span>
          </button>
          <button type="button" className="text-action hover:underline" onClick={does.tick}>
            A tick on {some ? 'them' : 'the group'} <span className="key">t</span>
          </button>
        </p>
      )}
      {p.writing && <NoteFor count={some || copies.length} onNote={does.note} />}
      {p.unfolded && (
        <ul className="mt-2 space-y-2 border-t border-line pt-2" aria-label="One by one">
          {copies.map((c) => (
            <One key={c.copyId} copy={c} p={p} across={across} />
          ))}
        </ul>
      )}
    </li>
  );
});

const WORDS: Readonly<Record<ByKey['verdict'], string>> = {
  right: 'as the key says',
  part: 'some of it, by the key',
  'other-unit': 'the number is right, the unit is not',
  wrong: 'does not match the key',
  empty: 'nothing written',
};

function Answer({ copy }: { copy: AcrossCopy }) {
  return copy.document && copy.box ? (
    <Crop
      document={copy.document}
      page={copy.page}
      box={copy.box}
      width={WIDE}
      label={`Answer of ${copy.student.given} ${copy.student.family}`}
    />
  ) : (
    <p className="text-soft">It stands on no page that is known.</p>
  );
}

/** Points for all of a group. Where their points differ none is pressed. */
function Points({ p }: { p: Props }) {
  const me = useHere().session.person!.id;
  const { shown, across, does, offered } = p;
  const most = across.question.most ?? 0;
  if (!across.graded || most === 0) return null;
  const all = new Set(shown.copies.map((c) => c.points));
  const points = all.size === 1 ? [...all][0]! : null;
  const steps =
    most % 100 === 0 && most / 100 < BUTTONS ? Array.from({ length: most / 100 + 1 }, (_, i) => i * 100) : [];
  return (
    <div className="flex items-center gap-1" role="group" aria-label="Points for the group">
      {steps.map((step) => (
        <button
          key={step}
          type="button"
          aria-pressed={points === step}
          className={`min-h-9 min-w-10 rounded font-bold tabular ${points === step ? 'bg-action text-white' : offered?.offers === step && points === null ? 'border-2 border-action bg-action-wash' : 'bg-margin hover:bg-action-wash'}`}
          onClick={() => does.give(points === step ? null : step)}
        >
          {formatPoints(step)}
        </button>
      ))}
      <PointsField
        label={`Points of group ${p.at + 1}`}
        className="field !min-h-9 !w-16 !py-0 text-right tabular"
        place={`jotmark.across.${me}.${across.assignmentId}.${across.question.id}.${shown.key}`}
        value={steps.includes(points ?? -1) ? null : points}
        placeholder={all.size > 1 ? 'differ' : 'other'}
        read={(text) => readPoints(text, most)}
        show={formatPoints}
        onValue={does.give}
      />
    </div>
  );
}

function NoteFor({ count, onNote }: { count: number; onNote(words: string): void }) {
  const field = useRef<HTMLTextAreaElement>(null);
  const [words, setWords] = useState('');
  useEffect(() => field.current?.focus(), []);
  return (
    <form
      className="mt-2 max-w-xl"
      onSubmit={(e) => {
        e.preventDefault();
        onNote(words);
      }}
    >
      <WordsField
        field={field}
        label={`Note for ${plural(count, 'copy', 'copies')}`}
        className="field min-h-16"
        placeholder={`Goes to ${plural(count, 'copy', 'copies')}, on each at its answer`}
        most={4000}
        value={words}
        onValue={setWords}
        onSend={() => onNote(words)}
      />
      <button type="submit" className="quiet mt-1" disabled={!words.trim()}>
        Add the note
      </button>
    </form>
  );
}

function One({ copy, p, across }: { copy: AcrossCopy; p: Props; across: Across }) {
  const me = useHere().session.person!.id;
  const name = `${copy.student.given} ${copy.student.family}`;
  const most = across.question.most ?? 0;
  return (
    <li className="flex flex-wrap items-start gap-3 text-sm">
      <input
        type="checkbox"
        className="mt-1 size-4 accent-action"
        aria-label={`Choose ${name}`}
        checked={p.chosen.has(copy.copyId)}
        onChange={() => p.does.choose(copy.copyId)}
      />
      <div className="min-w-0 flex-1">
        <Link to={`/desk/${copy.copyId}`} className="font-semibold hover:text-action hover:underline">
          {name}
        </Link>
        {p.shown.group && <Answer copy={copy} />}
        {copy.marks.length > 0 && (
          <p className="text-[13px] text-soft">
            {copy.marks
              .map((m) =>
                m.kind === 'note' ? `“${plainWords(m.words)}”` : m.kind === 'stamp' ? 'a tick' : 'a mark',
              )
              .join(' · ')}
          </p>
        )}
      </div>
      {across.graded && most > 0 && (
        <PointsField
          label={`Points of ${name}`}
          className="field !min-h-8 !w-16 !py-0 text-right tabular"
          place={`jotmark.points.${me}.${copy.handInId}.${across.question.id}`}
          value={copy.points}
          readOnly={copy.handedBack}
          read={(text) => readPoints(text, most)}
          show={formatPoints}
          onValue={(points) => p.does.giveOne(copy.copyId, points)}
        />
      )}
    </li>
  );
}
