import { formatGrade, type OwnGrades, type PersonId, type Scale } from '@jotmark/core';
import type { SheetId } from '../outbox/device.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { PointsField } from './PointsField.tsx';
import { readGrade } from './read-typed.ts';

interface Props {
  readonly members: readonly { readonly id: PersonId; readonly name: string }[];
  readonly keeper: SheetKeeper;
  readonly sheetId: SheetId;
  readonly most: number;
  readonly scale: Scale;
  /** What the group gets. */
  readonly group: number | null;
  readonly own: OwnGrades | null;
  readonly readOnly: boolean;
}

/** Of a group: all get its grade, but for those who are given one of their own. Nobody in the group sees another's. */
export function OwnGradesPart({ members, keeper, sheetId, most, scale, group, own, readOnly }: Props) {
  const others = members.filter((m) => own?.[m.id] !== undefined).length;
  const give = (id: PersonId, grade: number | null) => {
    const { [id]: _, ...rest } = own ?? {};
    const next = grade === null || grade === group ? rest : { ...rest, [id]: grade };
    keeper.write('own', Object.keys(next).length ? next : null);
  };
  return (
    <details className="mt-2 text-sm">
      <summary className="cursor-pointer text-soft">
        {others
          ? `${others} of ${members.length} with a grade of their own`
          : `All ${members.length} get this grade`}
      </summary>
      <ul className="mt-1 space-y-1">
        {members.map(({ id, name }) => (
          <li key={id} className="flex items-center gap-2">
            <span className="min-w-0 flex-1 truncate">{name}</span>
            <PointsField
              label={`Grade of ${name}`}
              className="field !w-20 !py-1 text-right tabular"
              value={own?.[id] ?? group}
              place={`jotmark.own-grade.${sheetId}.${id}`}
              readOnly={readOnly}
              read={(text) => readGrade(text, most, scale)}
              show={(value) => formatGrade(value, most, scale)}
              onValue={(value) => give(id, value)}
            />
          </li>
        ))}
      </ul>
    </details>
  );
}
