import { wallTime } from '@jotmark/core';
import { useId } from 'react';
import { useHere } from './session.tsx';

interface Props {
  readonly words: { readonly now: string; readonly later: string; readonly time: string };
  readonly later: boolean;
  onLater(later: boolean): void;
  /** The time as the school's clock shows it. */
  readonly wall: string;
  onWall(wall: string): void;
  /** What that is, in ms; null: no time yet. */
  readonly at: number | null;
}

/** Whether something happens at once or at a set time. A time that the clocks leave out is told as it will be. */
export function NowOrLater({ words, later, onLater, wall, onWall, at }: Props) {
  const { timeZone } = useHere().session.school;
  const name = useId();
  const choice = (label: string, value: boolean) => (
    <label className="flex min-h-8 items-center gap-2">
      <input
        type="radio"
        name={name}
        className="size-4 accent-action"
        checked={later === value}
        onChange={() => onLater(value)}
      />
      {label}
    </label>
  );
  return (
    <fieldset>
      <legend className="sr-only">When</legend>
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
        {choice(words.now, false)}
        {choice(words.later, true)}
        {later && (
          <input
            type="datetime-local"
            aria-label={words.time}
            className="field !w-56"
            min={wallTime(Date.now(), timeZone)}
            value={wall}
            onChange={(e) => onWall(e.target.value)}
          />
        )}
      </div>
      {later && at !== null && wallTime(at, timeZone) !== wall.slice(0, 16) && (
        <p className="mt-1 text-sm text-caution">
          The clocks change that night and leave this time out: it will be {wallTime(at, timeZone).slice(11)}.
        </p>
      )}
    </fieldset>
  );
}
