import { gradeOf, type Mark, type QuestionId, type Round, type Sheet } from '@jotmark/core';
import { memo, type Ref, useMemo } from 'react';
import { onDemand } from '../frame/on-demand.tsx';
import type { SheetId } from '../outbox/device.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { GradePart } from './GradePart.tsx';
import { OwnGradesPart } from './OwnGradesPart.tsx';
import { TallyPart } from './TallyPart.tsx';
import { type ScoreSite, useScored } from './useScored.ts';

/** Only where there is a rubric. */
const RubricPart = onDemand(() => import('./RubricPart.tsx').then((m) => m.RubricPart));

interface Props {
  readonly site: ScoreSite;
  readonly keeper: SheetKeeper;
  readonly sheetId: SheetId;
  readonly sheet: Sheet;
  readonly marks: readonly Mark[];
  readonly round: Round;
  readonly answers: ReadonlyMap<QuestionId, string>;
  readonly readOnly: boolean;
  readonly gradeRef: Ref<HTMLInputElement>;
  onSee?(id: QuestionId): void;
  acrossTo?(id: QuestionId): string;
  onDraw?(id: QuestionId): void;
}

/** Everything that is scored of one copy: questions, rubric, and the grade they come to. */
export const ScoresPart = memo(function ScoresPart(p: Props) {
  const { site, sheet, keeper, readOnly } = p;
  const { tally, sum, scores } = useScored(site, sheet, p.marks);
  const { scoring, rubric, keys, midway, earlier } = site.scoring;
  const graded = site.most !== null;
  const undrawn = useMemo(
    () => new Set(scoring.questions.flatMap((q) => (q.region ? [] : [q.id]))),
    [scoring.questions],
  );
  return (
    <>
      {graded && p.round === 'final' && (
        <TallyPart
          tally={tally}
          keeper={keeper}
          sheetId={p.sheetId}
          keys={keys}
          answers={p.answers}
          undrawn={undrawn}
          {...(p.onDraw && { onDraw: p.onDraw })}
          readOnly={readOnly}
          {...(p.onSee && { onSee: p.onSee })}
          {...(p.acrossTo && { acrossTo: p.acrossTo })}
        />
      )}
      {rubric && (
        <RubricPart
          hung={rubric}
          scoring={scoring}
          graded={graded}
          round={p.round}
          scores={scores}
          keeper={keeper}
          midway={p.round === 'final' ? midway : null}
          readOnly={readOnly}
        />
      )}
      {p.round === 'final' &&
        (graded ? (
          <>
            <GradePart
              keeper={keeper}
              sheetId={p.sheetId}
              most={site.most!}
              scale={scoring.scale}
              sum={sum}
              typed={sheet.slip.grade.value}
              lifted={sheet.slip.lifted.value}
              earlier={earlier}
              again={scoring.again}
              readOnly={readOnly}
              inputRef={p.gradeRef}
            />
            {site.scoring.members.length > 1 && (
              <OwnGradesPart
                members={site.scoring.members}
                keeper={keeper}
                sheetId={p.sheetId}
                most={site.most!}
                scale={scoring.scale}
                group={gradeOf(sheet.slip.grade.value, sum.value)}
                own={sheet.slip.own.value}
                readOnly={readOnly}
              />
            )}
          </>
        ) : (
          !rubric && <p className="mt-3 text-soft">This work has no grade.</p>
        ))}
    </>
  );
});
