import { type AssignmentId, formatGrade, type PileScores, type ScoreRow } from '@jotmark/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { useHere } from '../frame/session.tsx';
import { sheetOfRow } from '../outbox/alone.ts';
import { outbox } from '../outbox/outbox.ts';
import { PointsField } from '../scores/PointsField.tsx';
import { readGrade } from '../scores/read-typed.ts';
import { nameOf } from './figures.ts';

/** A second opinion on what a colleague marked: typed before one sees what they gave. */
export function SecondLook({
  scores,
  assignmentId,
  onDone,
}: {
  scores: PileScores;
  assignmentId: AssignmentId;
  onDone(): void;
}) {
  const me = useHere().session.person!.id;
  const { most, scoring } = scores.scoring;
  const [typed, setTyped] = useState<ReadonlyMap<string, number | null>>(new Map());
  const rows = scores.rows.filter((r) => r.marker && r.marker.id !== me && r.place !== 'handed-back');
  if (most === null) return null;
  if (rows.length === 0)
    return (
      <p className="rounded-lg bg-raised p-4 text-sm text-soft">
        You marked all of these yourself. A colleague who teaches this class can give a second opinion here.
      </p>
    );
  const mine = (row: ScoreRow): number | null => {
    const now = typed.get(row.copyId);
    return now === undefined ? (row.second?.by === me ? row.second.grade : null) : now;
  };
  const give = async (row: ScoreRow, grade: number | null) => {
    setTyped((old) => new Map(old).set(row.copyId, grade));
    await outbox.writeSlip({
      sheetId: sheetOfRow(row),
      field: 'second',
      value: grade === null ? null : { by: me, grade },
      was: row.second,
      base: row.secondVersion,
    });
    onDone();
  };
  return (
    <section className="rounded-lg bg-raised p-4 text-sm shadow-sm" aria-label="Second opinion">
      <h2 className="font-bold">Second opinion</h2>
      <p className="text-soft">What would you give? Their grade is shown when yours is there.</p>
      <ul className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(280px,1fr))] gap-x-6 gap-y-1">
        {rows.map((row) => {
          const own = mine(row);
          return (
            <li key={row.copyId} className="flex items-center gap-2">
              <Link
                className="min-w-0 flex-1 truncate hover:text-action hover:underline"
                to={`/room/${assignmentId}/${row.copyId}`}
              >
                {nameOf(row)}
              </Link>
              <PointsField
                label={`Second opinion on ${nameOf(row)}`}
                className="field !min-h-8 !w-16 !py-0 text-right tabular"
                place={`jotmark.second.${me}.${row.copyId}`}
                value={own}
                read={(text) => readGrade(text, most, scoring.scale)}
                show={(v) => formatGrade(v, most, scoring.scale)}
                onValue={(v) => give(row, v)}
              />
              <span className="w-16 text-soft">
                {own === null || row.grade === null
                  ? ''
                  : `they: ${formatGrade(row.grade, most, scoring.scale)}`}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
