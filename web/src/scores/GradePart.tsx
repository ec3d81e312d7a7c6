import {
  formatGrade,
  formatMost,
  formatPoints,
  type GradeSum,
  type NoGrade,
  type GradePart as Part,
  type Scale,
} from '@jotmark/core';
import { memo, type Ref } from 'react';
import { Fold } from '../frame/Fold.tsx';
import type { SheetId } from '../outbox/device.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { plural } from '../time/words.ts';
import { GradeField } from './GradeField.tsx';

interface Props {
  readonly keeper: SheetKeeper;
  readonly sheetId: SheetId;
  readonly most: number;
  readonly scale: Scale;
  readonly sum: GradeSum;
  readonly typed: number | null;
  readonly lifted: boolean;
  /** Grades that hand-ins before this one went back with. */
  readonly earlier: readonly (number | null)[];
  readonly again: 'later' | 'better';
  readonly readOnly: boolean;
  readonly inputRef: Ref<HTMLInputElement>;
}

/** The grade: what is entered in its field, and below it the whole sum that it comes from, when one asks. */
export const GradePart = memo(function GradePart(p: Props) {
  const { sum, typed, keeper, most, scale, readOnly } = p;
  const value = typed ?? sum.value;
  const say = (points: number) => formatGrade(points, most, scale);
  const over = typed !== null && sum.value !== null && sum.value !== typed;
  return (
    <div className="mt-3">
      <div className="flex items-center gap-2 border-y border-dashed border-line-strong py-3">
        <span className="font-bold whitespace-nowrap">
          Grade {!readOnly && <span className="key font-normal">g</span>}
        </span>
        <span className="ml-auto" />
        <GradeField
          label="Grade"
          sheetId={p.sheetId}
          className="field !w-24 text-right text-lg font-bold tabular"
          value={value}
          most={most}
          scale={scale}
          readOnly={readOnly}
          inputRef={p.inputRef}
          onValue={(v) => keeper.write('grade', v)}
        />
        <span className="min-w-8 whitespace-nowrap text-soft tabular">{formatMost(most, scale)}</span>
      </div>
      {over && (
        <p className="mt-1 text-[13px] text-caution">
          Typed; computed it would be {say(sum.value!)}.{' '}
          {!readOnly && (
            <button type="button" className="underline" onClick={() => keeper.write('grade', null)}>
              Use the computed grade
            </button>
          )}
        </p>
      )}
      {sum.why !== 'by-hand' && (
        <Fold name="sum" head={headOf(sum, say)} className="mt-1 text-[13px] text-soft">
          <SumLines p={p} />
        </Fold>
      )}
      {p.earlier.some((g) => g !== null) && (
        <p className="mt-1 text-[13px] text-soft">
          Earlier: {p.earlier.flatMap((g) => (g === null ? [] : [say(g)])).join(', ')}; the {p.again} one
          counts.
        </p>
      )}
    </div>
  );
});

function headOf(sum: GradeSum, say: (points: number) => string): string {
  if (sum.value === null) return WHY[sum.why ?? 'nothing-scored'];
  return `Computed: ${say(sum.value)}${sum.open ? ` so far, ${sum.open} open` : ''}`;
}

const WHY: Readonly<Record<NoGrade, string>> = {
  ungraded: 'This work has no grade.',
  'by-hand': 'The grade is typed.',
  'nothing-scored': 'Computed when something is scored.',
  'no-questions': 'No question has points, so nothing can be computed.',
  'no-rubric': 'No criterion has points and a weight, so nothing can be computed.',
};

const PART_NAMES: Readonly<Record<Part['of'], string>> = { tally: 'Questions', rubric: 'Rubric' };
/** Halves of weighted points need not be whole hundredths. */
const near = (hundredths: number): string => formatPoints(Math.round(hundredths));

/** The whole sum, step by step. */
function SumLines({ p }: { p: Props }) {
  const { sum, most } = p;
  return (
    <dl className="mt-1 grid grid-cols-[1fr_auto] gap-x-3 gap-y-0.5 tabular">
      {sum.parts.map((part) => (
        <div key={part.of} className="contents">
          <dt>
            {PART_NAMES[part.of]} {near(part.earned)} / {near(part.most)}
            {part.share < 100 && `, counts ${part.share} %`}
          </dt>
          <dd className="text-right">
            {part.most ? near((most * part.share * part.earned) / (100 * part.most)) : '0'}
          </dd>
        </div>
      ))}
      {sum.before !== null && (
        <>
          <dt>of {formatPoints(most)}, rounded</dt>
          <dd className="text-right">{formatPoints(sum.before)}</dd>
        </>
      )}
      {sum.late && (
        <>
          <dt>
            {plural(sum.late.days, 'day', 'days')} late
            {!p.readOnly && (
              <label className="ml-2 whitespace-nowrap">
                <input
                  type="checkbox"
                  className="mr-1 accent-action"
                  checked={p.lifted}
                  onChange={(e) => p.keeper.write('lifted', e.target.checked)}
                />
                Do not deduct
              </label>
            )}
          </dt>
          <dd className="text-right">{sum.late.lifted ? 'lifted' : `−${formatPoints(sum.late.off)}`}</dd>
        </>
      )}
      {sum.value !== null && (
        <>
          <dt className="border-t border-line font-semibold text-text">Computed grade</dt>
          <dd className="border-t border-line text-right font-semibold text-text">
            {formatGrade(sum.value, most, p.scale)}
          </dd>
        </>
      )}
    </dl>
  );
}
