import {
  agreementOf,
  asCategories,
  formatGrade,
  formatPoints,
  howTheyWork,
  type PileScores,
  type ScoreRow,
  spreadOf,
  type Trend,
  trendOf,
} from '@jotmark/core';
import type { Figure } from '../frame/Chart.tsx';
import { stepWords } from '../scores/steps-words.ts';
import { plural } from '../time/words.ts';

/** By what copies are compared: the grade, a question, a criterion. */
export type By =
  | { readonly of: 'grade' }
  | { readonly of: 'question'; readonly id: string }
  | { readonly of: 'criterion'; readonly id: string };

/** A copy with what it has by the choice, as a number that can be compared. */
export interface Compared {
  readonly row: ScoreRow;
  readonly value: number;
}

const ACTION = '#1d4f5e';
const CAUTION = '#8a4b08';
const GARNET = '#b0253a';
const axis = { gridcolor: '#d3cec2', zeroline: false };

export const nameOf = (row: ScoreRow): string => `${row.student.given} ${row.student.family}`.trim();

/** The copies that have a value by the choice, in the order they were marked. */
export function compared(scores: PileScores, by: By): Compared[] {
  return scores.rows
    .flatMap((row) => {
      const value = valueBy(row, by);
      return value === null || row.markedAt === null ? [] : [{ row, value }];
    })
    .sort((a, b) => a.row.markedAt! - b.row.markedAt!);
}

function valueBy(row: ScoreRow, by: By): number | null {
  switch (by.of) {
    case 'grade':
      return row.grade;
    case 'question':
      return row.points.find((p) => p.question === by.id)?.points ?? null;
    case 'criterion': {
      const step = row.levels.find((l) => l.criterion === by.id && l.round === 'final')?.step ?? -1;
      return step < 0 ? null : step;
    }
  }
}

/** How a value is read. */
export function sayer(scores: PileScores, by: By): (value: number) => string {
  const { most, scoring, rubric } = scores.scoring;
  switch (by.of) {
    case 'grade':
      return (value) => formatGrade(Math.round(value), most ?? value, scoring.scale);
    case 'question':
      return (value) => formatPoints(Math.round(value));
    case 'criterion': {
      const criterion = rubric?.rubric.criteria.find((c) => c.id === by.id);
      return (value) => stepWords(criterion, value);
    }
  }
}

const percent = (share: number): string => `${Math.round(share * 100)} %`;

/** Whether marking drifted, in a sentence. */
export function driftWords(
  all: readonly Compared[],
  trend: Trend,
  difference: (hundredths: number) => string,
): string {
  if (trend.chance === null) return 'Too few copies are marked to say whether marking drifted.';
  const third = Math.max(1, Math.floor(all.length / 3));
  const mean = (some: readonly Compared[]) => some.reduce((sum, c) => sum + c.value, 0) / some.length;
  const apart = mean(all.slice(-third)) - mean(all.slice(0, third));
  const chance = Math.max(1, Math.round(trend.chance * 100));
  const how = `a trend like this comes by chance in ${trend.chance < 0.01 ? 'fewer than 1' : chance} of 100 piles`;
  if (Math.abs(apart) < 0.5) return `The last ${third} are like the first ${third}; ${how}.`;
  return `The last ${third} are ${difference(Math.abs(apart))} ${apart < 0 ? 'lower' : 'higher'} than the first ${third}; ${how}.`;
}

/** Score against the order of marking, with its trend. */
export function orderFigure(
  all: readonly Compared[],
  say: (value: number) => string,
  difference: (value: number) => string,
  unit: number,
  here: string | null,
): Figure {
  const values = all.map((c) => c.value);
  const trend = trendOf(values);
  return {
    says: driftWords(all, trend, difference),
    data: [
      {
        type: 'scatter',
        mode: 'markers',
        x: all.map((_, i) => i + 1),
        y: values.map((v) => v / unit),
        text: all.map((c) => `${nameOf(c.row)}: ${say(c.value)}`),
        hoverinfo: 'text',
        marker: {
          symbol: 'square-open',
          size: 11,
          line: { width: 2 },
          color: all.map((c) => (c.row.copyId === here ? GARNET : ACTION)),
        },
      },
      {
        type: 'scatter',
        mode: 'lines',
        x: [1, all.length],
        y: [trend.at / unit, (trend.at + trend.slope * (all.length - 1)) / unit],
        line: { color: CAUTION, dash: 'dash', width: 2 },
        hoverinfo: 'skip',
      },
    ],
    layout: {
      xaxis: { ...axis, title: { text: 'in the order of marking' }, rangemode: 'tozero' },
      yaxis: { ...axis, rangemode: 'tozero' },
    },
    table: [['Student', 'Marked', 'Score'], ...all.map((c, i) => [nameOf(c.row), `${i + 1}.`, say(c.value)])],
  };
}

/** How many copies have how much. */
export function spreadFigure(all: readonly Compared[], say: (value: number) => string): Figure {
  const counts = new Map<number, number>();
  for (const { value } of all) counts.set(value, (counts.get(value) ?? 0) + 1);
  const lines = [...counts].sort((a, b) => a[0] - b[0]);
  const spread = spreadOf(all.map((c) => c.value));
  return {
    says: spread
      ? `${plural(all.length, 'copy', 'copies')}: half of them have ${say(spread.median)} or less, the middle half ${say(spread.lower)} to ${say(spread.upper)}.`
      : 'Nothing is scored yet.',
    data: [
      { type: 'bar', x: lines.map(([v]) => say(v)), y: lines.map(([, n]) => n), marker: { color: ACTION } },
    ],
    layout: {
      xaxis: { ...axis, type: 'category' },
      yaxis: { ...axis, title: { text: 'copies' }, rangemode: 'tozero' },
    },
    table: [['Score', 'Copies'], ...lines.map(([v, n]) => [say(v), String(n)])],
  };
}

/** How hard each question or criterion was, and how well it tells apart who is strong. Only copies in which all of them are scored. */
export function workingFigure(scores: PileScores, of: 'question' | 'criterion'): Figure {
  const { asked, rubric } = scores.scoring;
  const columns =
    of === 'question'
      ? asked.flatMap((q) =>
          (q.most ?? 0) > 0 ? [{ id: q.id as string, name: q.label, most: q.most! }] : [],
        )
      : (rubric?.rubric.criteria ?? []).map((c) => ({
          id: c.id as string,
          name: c.name,
          most: Math.max(1, (c.levels.length - 1) * 2),
        }));
  const lines = scores.rows.flatMap((row) => {
    const values = columns.map((c) => valueBy(row, { of, id: c.id }));
    return values.every((v) => v !== null) ? [values as number[]] : [];
  });
  const works = columns.length
    ? howTheyWork(
        lines,
        columns.map((c) => c.most),
      )
    : [];
  return {
    says: lines.length
      ? `From ${plural(lines.length, 'copy', 'copies')} in which all is scored.`
      : 'No copy has all of them scored yet.',
    data: [
      {
        type: 'bar',
        x: columns.map((c) => c.name),
        y: works.map((w) => Math.round(w.ease * 100)),
        text: works.map((w) => (w.tellsApart === null ? '' : `tells apart ${w.tellsApart.toFixed(2)}`)),
        textposition: 'outside',
        cliponaxis: false,
        marker: { color: ACTION },
      },
    ],
    layout: {
      xaxis: { ...axis, type: 'category' },
      yaxis: { ...axis, title: { text: '% of its points earned' }, range: [0, 112] },
    },
    table: [
      [of === 'question' ? 'Question' : 'Criterion', 'Earned', 'Tells apart'],
      ...columns.map((c, i) => [
        c.name,
        percent(works[i]!.ease),
        works[i]!.tellsApart === null ? '–' : works[i]!.tellsApart!.toFixed(2),
      ]),
    ],
  };
}

/** Two teachers of one pile: what one gave, what the other would. */
export function secondFigure(scores: PileScores): Figure {
  const { most, scoring } = scores.scoring;
  const both = scores.rows.flatMap((row) =>
    row.second && row.grade !== null && row.second.by !== row.marker?.id
      ? [{ row, pair: [row.grade, row.second.grade] as const }]
      : [],
  );
  const { categories, pairs } = asCategories(both.map((b) => b.pair));
  const agreement = agreementOf(pairs, categories, 'linear');
  const say = (v: number) => formatGrade(v, most ?? v, scoring.scale);
  const kappa = agreement.kappa === null ? '' : `, weighted kappa ${agreement.kappa.toFixed(2)}`;
  return {
    says: both.length
      ? `Both looked at ${plural(both.length, 'copy', 'copies')}: the same on ${percent(agreement.same)}${kappa}.`
      : 'No copy has a second opinion yet.',
    data: [
      {
        type: 'scatter',
        mode: 'markers',
        x: both.map((b) => b.pair[0] / 100),
        y: both.map((b) => b.pair[1] / 100),
        text: both.map((b) => `${nameOf(b.row)}: ${say(b.pair[0])}, second ${say(b.pair[1])}`),
        hoverinfo: 'text',
        marker: { symbol: 'square-open', size: 11, line: { width: 2 }, color: ACTION },
      },
      {
        type: 'scatter',
        mode: 'lines',
        x: [0, (most ?? 0) / 100],
        y: [0, (most ?? 0) / 100],
        line: { color: CAUTION, dash: 'dot', width: 1.5 },
        hoverinfo: 'skip',
      },
    ],
    layout: {
      xaxis: { ...axis, title: { text: 'who marked it' }, rangemode: 'tozero' },
      yaxis: { ...axis, title: { text: 'second opinion' }, rangemode: 'tozero' },
    },
    table: [
      ['Student', 'Marked by', 'Grade', 'Second opinion'],
      ...both.map((b) => [nameOf(b.row), b.row.marker?.name ?? '', say(b.pair[0]), say(b.pair[1])]),
    ],
  };
}
