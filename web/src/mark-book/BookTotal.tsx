import { type BookCell, type BookColumn, type BookRule, bookTotal, formatPoints } from '@jotmark/core';
import { tip } from '../frame/tip.ts';

/** What a cell gives to the total of its line. */
export const entryOf = (cell: BookCell | undefined, c: BookColumn) =>
  cell
    ? [
        {
          category: c.category,
          most: c.most,
          grade: cell.grade,
          excused: cell.excused,
          missing: cell.missing,
        },
      ]
    : [];

/** What a line comes to, as a bar and a number; what it is made of when one points at it. */
export function BookTotal({ entries, rule }: { entries: Parameters<typeof bookTotal>[0]; rule: BookRule }) {
  const { percent, parts, zeros } = bookTotal(entries, rule);
  if (percent === null) return null;
  const words = [
    ...parts.map((t) => `${t.category || 'other work'}: ${formatPoints(t.percent)} %, counts ${t.weight}`),
    ...(zeros ? [`${zeros} missing, counted 0`] : []),
  ].join('; ');
  return (
    <span className="inline-flex items-center gap-2" {...tip(words)}>
      <span aria-hidden="true" className="h-2 w-14 bg-margin">
        <span className="block h-2 bg-action" style={{ width: `${Math.min(100, percent / 100)}%` }} />
      </span>
      {Math.round(percent / 100)}
    </span>
  );
}
