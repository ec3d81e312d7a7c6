import { formatGrade, type PersonId, type Scale } from '@jotmark/core';
import type { Ref } from 'react';
import { useHere } from '../frame/session.tsx';
import type { SheetId } from '../outbox/device.ts';
import { PointsField } from './PointsField.tsx';
import { readGrade } from './read-typed.ts';

interface Props {
  readonly label: string;
  readonly sheetId: SheetId;
  /** What is entered: typed, or else as computed. */
  readonly value: number | null;
  readonly most: number;
  readonly scale: Scale;
  readonly readOnly?: boolean;
  readonly className: string;
  readonly inputRef?: Ref<HTMLInputElement>;
  onValue(value: number | null): void;
  onEnter?(): void;
}

/** Where a grade that is being typed is kept, by who types it. */
export const placeOfGrade = (me: PersonId, sheetId: SheetId) => `jotmark.grade.${me}.${sheetId}`;

/** A grade, typed by the scale of its assignment; the same field in slip, pile and scores. */
export function GradeField({ sheetId, most, scale, ...rest }: Props) {
  const me = useHere().session.person!.id;
  return (
    <PointsField
      {...rest}
      place={placeOfGrade(me, sheetId)}
      read={(text) => readGrade(text, most, scale)}
      show={(value) => formatGrade(value, most, scale)}
    />
  );
}
