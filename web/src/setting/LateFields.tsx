import type { LateRule } from '@jotmark/core';
import { PointsInput } from '../frame/PointsInput.tsx';

const PLAIN: LateRule = { counts: 'percent', perDay: 1000, cap: 5000, graceDays: 0 };

/** What being late costs. It touches computed grades only: a grade that is typed is as it was typed. */
export function LateFields({
  late,
  onChange,
}: {
  late: LateRule | null;
  onChange(late: LateRule | null): void;
}) {
  const small = 'field !min-h-8 !w-16 !py-0 text-right tabular';
  const unit = late?.counts === 'points' ? 'points' : '%';
  return (
    <div className="text-sm">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4 accent-action"
          checked={late !== null}
          onChange={(e) => onChange(e.target.checked ? PLAIN : null)}
        />
        Being late costs something
      </label>
      {late && (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          each day begun
          <PointsInput
            aria-label="What each day costs"
            className={small}
            value={late.perDay}
            onChange={(perDay) => onChange({ ...late, perDay: perDay ?? 0 })}
          />
          <select
            aria-label="Counted in"
            className="field !min-h-8 !w-auto !py-0"
            value={late.counts}
            onChange={(e) => onChange({ ...late, counts: e.target.value as LateRule['counts'] })}
          >
            <option value="percent">% of the points</option>
            <option value="points">points</option>
          </select>
          , at most
          <PointsInput
            aria-label="At most"
            className={small}
            placeholder="all"
            value={late.cap}
            onChange={(cap) => onChange({ ...late, cap })}
          />
          {unit}, after
          <input
            type="number"
            aria-label="Days of grace"
            className={small}
            min={0}
            max={60}
            value={late.graceDays}
            onChange={(e) =>
              onChange({
                ...late,
                graceDays: Math.min(60, Math.max(0, Math.trunc(Number(e.target.value)) || 0)),
              })
            }
          />
          days of grace
          <p className="w-full text-soft">
            It is taken off computed grades only, and can be lifted at each copy.
          </p>
        </div>
      )}
    </div>
  );
}
