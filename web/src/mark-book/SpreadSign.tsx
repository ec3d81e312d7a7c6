import { formatGrade, type Scale, spreadOf } from '@jotmark/core';
import { tip } from '../frame/tip.ts';

/** The middle of a class and its spread, small: from least to most, the middle half as a box, the median as a line. */
export function SpreadSign({
  grades,
  most,
  scale,
}: {
  grades: readonly number[];
  most: number;
  scale: Scale;
}) {
  const spread = spreadOf(grades);
  if (!spread || spread.count < 3) return null;
  const x = (grade: number) => 2 + (76 * grade) / most;
  const say = (grade: number) => formatGrade(Math.round(grade), most, scale);
  const words = `Median ${say(spread.median)}; half of them between ${say(spread.lower)} and ${say(spread.upper)}; from ${say(spread.least)} to ${say(spread.most)}`;
  return (
    <span role="img" aria-label={words} {...tip(words)} className="inline-block">
      <svg width="80" height="16" viewBox="0 0 80 16" aria-hidden="true">
        <line
          x1={x(spread.least)}
          x2={x(spread.most)}
          y1="8"
          y2="8"
          stroke="var(--color-line-strong)"
          strokeWidth="1.5"
        />
        <rect
          x={x(spread.lower)}
          y="3"
          width={Math.max(2, x(spread.upper) - x(spread.lower))}
          height="10"
          rx="2"
          fill="var(--color-action-wash)"
          stroke="var(--color-action)"
        />
        <line
          x1={x(spread.median)}
          x2={x(spread.median)}
          y1="2"
          y2="14"
          stroke="var(--color-action)"
          strokeWidth="2.5"
        />
      </svg>
    </span>
  );
}
