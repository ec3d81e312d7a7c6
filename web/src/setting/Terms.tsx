import {
  type AssignmentLine,
  type AssignmentWords,
  type ClassId,
  daysAhead,
  formatPoints,
  inUse,
  momentAt,
  TakingBack,
  usualPoints,
  usualTime,
  wallTime,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { PointsInput } from '../frame/PointsInput.tsx';
import { useHere } from '../frame/session.tsx';

const CATEGORIES = ['homework', 'classwork', 'test', 'project'];
const NONE: readonly AssignmentLine[] = [];

/** Dates, points, and what the work is told by in lists; what the class is used to is offered. */
export function Terms({
  classId,
  words,
  draft,
  onChange,
}: {
  classId: ClassId;
  words: AssignmentWords;
  draft: boolean;
  onChange(part: Partial<AssignmentWords>): void;
}) {
  const { session } = useHere();
  const { timeZone } = session.school;
  const due = useId();
  const set = useQuery({
    queryKey: keys.assignments(classId),
    queryFn: () => call('assignments', { params: { classId } }),
  });
  const before = set.data ?? NONE;
  return (
    <section className="space-y-3 rounded-lg bg-raised p-4 shadow-sm" aria-label="Dates and points">
      <div>
        <label htmlFor={due} className="text-sm text-soft">
          Due ({timeZone.replaceAll('_', ' ')} time)
        </label>
        <input
          id={due}
          type="datetime-local"
          className="field"
          value={words.dueAt === null ? '' : wallTime(words.dueAt, timeZone)}
          onChange={(e) => onChange({ dueAt: momentAt(e.target.value, timeZone) })}
        />
        {words.dueAt === null && <UsualDue before={before} onChange={(dueAt) => onChange({ dueAt })} />}
      </div>
      {/* What is out already is graded otherwise only after its effect was shown, see the scoring below. */}
      {draft && (
        <Points value={words.most} usual={usualPoints(before)} onChange={(most) => onChange({ most })} />
      )}
      <OneInUse
        label="Category"
        most={60}
        value={words.category}
        names={[...new Set([...inUse(before, 'category'), ...CATEGORIES])]}
        onChange={(category) => onChange({ category })}
      />
      <OneInUse
        label="Unit"
        most={200}
        value={words.unit}
        names={inUse(before, 'unit')}
        onChange={(unit) => onChange({ unit })}
      />
      <label className="flex items-start gap-2">
        <input
          type="checkbox"
          className="mt-1 size-4 accent-action"
          checked={!words.handsIn}
          onChange={(e) => onChange({ handsIn: !e.target.checked })}
        />
        <span>
          Nothing to hand in
          <span className="block text-sm text-soft">Students only call it done.</span>
        </span>
      </label>
      <TakeBack words={words} onChange={onChange} />
    </section>
  );
}

const TAKE_BACK: readonly (readonly [TakingBack, words: string, means: string])[] = [
  ['until-marked', 'until I begin to mark it', 'Who tries can tell from it whether you have begun.'],
  [
    'until-due',
    'until it is due',
    'You can mark it from then on, or as soon as you end taking back yourself.',
  ],
  ['never', 'never', 'What is handed in stays handed in.'],
];

/** How long students can take back what they have handed in, and what follows from it. */
function TakeBack({
  words,
  onChange,
}: {
  words: AssignmentWords;
  onChange(part: Partial<AssignmentWords>): void;
}) {
  const id = useId();
  const means = TAKE_BACK.find(([rule]) => rule === words.takeBack)?.[2];
  return (
    <div>
      <label htmlFor={id} className="text-sm text-soft">
        Students can take it back
      </label>
      <select
        id={id}
        className="field"
        value={words.takeBack}
        onChange={(e) => onChange({ takeBack: TakingBack.parse(e.target.value) })}
      >
        {TAKE_BACK.map(([rule, says]) => (
          <option key={rule} value={rule} disabled={rule === 'until-due' && words.dueAt === null}>
            {says}
            {rule === 'until-due' && words.dueAt === null && ' (give it a due date first)'}
          </option>
        ))}
      </select>
      <p className="mt-1 text-sm text-soft">
        {words.takeBack === 'until-due' && words.dueAt === null
          ? 'Without a due date it cannot be taken back.'
          : means}
      </p>
    </div>
  );
}

/** A word that work is told by in lists: typed, or one of those in use. */
function OneInUse({
  label,
  most,
  value,
  names,
  onChange,
}: {
  label: string;
  /** Letters at the most. */
  most: number;
  value: string;
  names: readonly string[];
  onChange(value: string): void;
}) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="text-sm text-soft">
        {label}
      </label>
      <input
        id={id}
        className="field"
        list={`${id}-names`}
        maxLength={most}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
      <datalist id={`${id}-names`}>
        {names.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
    </div>
  );
}

/** As a class is used to: tomorrow or in a week, at the time of day at which its work is usually due. */
function UsualDue({
  before,
  onChange,
}: {
  before: readonly AssignmentLine[];
  onChange(dueAt: number): void;
}) {
  const { timeZone } = useHere().session.school;
  const time = usualTime(before, timeZone) ?? '18:00';
  return (
    <p className="mt-1 flex flex-wrap gap-x-3 text-sm">
      {(
        [
          ['Tomorrow', 1],
          ['In a week', 7],
        ] as const
      ).map(([words, days]) => {
        const at = daysAhead(Date.now(), days, time, timeZone);
        return (
          at !== null && (
            <button key={days} type="button" className="text-action underline" onClick={() => onChange(at)}>
              {words}, {time}
            </button>
          )
        );
      })}
    </p>
  );
}

/** Empty is ungraded; an impossible number is told and changes nothing. */
function Points({
  value,
  usual,
  onChange,
}: {
  value: number | null;
  /** What work of this class is usually out of; null: nothing yet. */
  usual: number | null;
  onChange(value: number | null): void;
}) {
  const field = useId();
  const [wrong, setWrong] = useState(false);
  return (
    <div>
      <label htmlFor={field} className="text-sm text-soft">
        Points (empty: ungraded)
      </label>
      <PointsInput
        id={field}
        className="field tabular"
        value={value}
        onChange={onChange}
        onWrong={setWrong}
      />
      {usual !== null && value === null && !wrong && (
        <button type="button" className="mt-1 text-sm text-action underline" onClick={() => onChange(usual)}>
          {formatPoints(usual)}, as usual
        </button>
      )}
      {wrong && (
        <p role="alert" className="mt-1 text-sm text-caution">
          That cannot be points. Write them like 10, 12.5 or 8½; the last good number stays.
        </p>
      )}
    </div>
  );
}
