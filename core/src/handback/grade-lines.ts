import { formatPoints } from '../points/points.ts';
import type { Snapshot } from './snapshot.ts';

/** A line of the sum that a grade comes from: "Question 2: Scale", "1½ / 3". */
export interface GradeLine {
  /** Of its own within the sum. */
  readonly id: string;
  readonly label: string;
  readonly value: string;
  /** It adds up the lines of its kind: the questions, or the rubric. */
  readonly sum: boolean;
}

const PARTS = { tally: 'Questions', rubric: 'Rubric' } as const;
const near = (hundredths: number): string => formatPoints(Math.round(hundredths));

/** What the grade of a hand-back comes from, line by line in the order it is added up; none where it was only typed. */
export function gradeLines({ scored }: Pick<Snapshot, 'scored'>): GradeLine[] {
  if (!scored) return [];
  const { lines, parts, late } = scored;
  return [
    ...lines.map((l) => ({
      id: l.id as string,
      label: `Question ${l.label}${l.name && `: ${l.name}`}`,
      value: `${l.points === null ? '–' : formatPoints(l.points)} / ${formatPoints(l.most)}`,
      sum: false,
    })),
    ...parts.map((p) => ({
      id: p.of,
      label: PARTS[p.of] + (p.share < 100 ? ` (${p.share} % of the grade)` : ''),
      value: `${near(p.earned)} / ${near(p.most)}`,
      sum: true,
    })),
    ...(late
      ? [
          {
            id: 'late',
            label: `${late.days} ${late.days === 1 ? 'day' : 'days'} late`,
            value: `−${formatPoints(late.off)}`,
            sum: false,
          },
        ]
      : []),
  ];
}
