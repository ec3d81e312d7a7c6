import type { CopyId, PileRow } from '@jotmark/core';
import { memo, useCallback, useEffect, useRef } from 'react';
import { Link } from 'react-router';
import { usePrepare } from '../ahead/ahead.ts';
import { useHere } from '../frame/session.tsx';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';
import { lateWords, plural } from '../time/words.ts';
import { DoneCell, GradeCell } from './GradeCell.tsx';

interface Props {
  readonly most: number | null;
  readonly rows: readonly PileRow[];
  readonly chosen: ReadonlySet<CopyId>;
  onChoose(chosen: ReadonlySet<CopyId>): void;
}

/** One line a copy; thirty-two of them fit without scrolling. */
export function PileTable({ most, rows, chosen, onChoose }: Props) {
  const choosable = rows;
  const all = choosable.length > 0 && choosable.every((r) => chosen.has(r.copyId));
  const now = useRef({ chosen, onChoose });
  now.current = { chosen, onChoose };
  const toggle = useCallback((id: CopyId) => {
    const next = new Set(now.current.chosen);
    if (!next.delete(id)) next.add(id);
    now.current.onChoose(next);
  }, []);
  return (
    <table className="w-full border-collapse text-[14px]">
      <thead className="text-left text-xs text-soft">
        <tr className="border-b border-line-strong">
          <th className="w-8 py-0.5 font-normal">
            <SomeOrAll
              all={all}
              some={chosen.size > 0}
              disabled={choosable.length === 0}
              onChange={() => onChoose(new Set(all ? [] : choosable.map((r) => r.copyId)))}
            />
          </th>
          <th className="w-7">
            <span className="sr-only">Sign</span>
          </th>
          <th className="font-normal">Student</th>
          <th className="w-32 font-normal">Place</th>
          <th className="w-28 font-normal">Handed in</th>
          <th className="w-44 font-normal">Facts</th>
          <th className="w-16 text-right font-normal">Grade</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <Line key={row.copyId} row={row} most={most} chosen={chosen.has(row.copyId)} toggle={toggle} />
        ))}
      </tbody>
    </table>
  );
}

interface LineProps {
  readonly row: PileRow;
  readonly most: number | null;
  readonly chosen: boolean;
  toggle(copyId: CopyId): void;
}

/** Renders again only when something about this one copy is new: a pile of four hundred stays quick under the keys. */
const Line = memo(function Line({ row, most, chosen, toggle }: LineProps) {
  const { clock } = useHere();
  const prepare = usePrepare();
  const open = row.place !== 'with-student';
  const name = `${row.student.family}, ${row.student.given}`;
  return (
    <tr
      className={`h-[21px] border-b border-line ${open ? 'hover:bg-action-wash' : 'text-soft'} ${chosen ? 'bg-action-wash' : ''}`}
    >
      <td>
        <input
          type="checkbox"
          className="block size-3.5 accent-action"
          aria-label={`Choose ${name}`}
          checked={chosen}
          onChange={() => toggle(row.copyId)}
        />
      </td>
      <td>
        <PlaceGlyph place={row.place} size={15} />
      </td>
      <td className="font-medium">
        {open ? (
          <Link
            to={`/desk/${row.copyId}`}
            {...prepare(row.copyId)}
            className="block hover:text-action hover:underline"
          >
            {name}
          </Link>
        ) : (
          name
        )}
      </td>
      <td className="text-soft">
        <DoneCell row={row}>{PLACE_WORDS[row.place]}</DoneCell>
      </td>
      <td className="text-soft tabular">
        {row.handedInAt === null ? '' : clock.moment(row.handedInAt, Date.now())}
      </td>
      <td className="text-soft">
        <Facts row={row} />
      </td>
      <td className="text-right">
        <GradeCell row={row} most={most} />
      </td>
    </tr>
  );
});

function SomeOrAll({
  all,
  some,
  disabled,
  onChange,
}: {
  all: boolean;
  some: boolean;
  disabled: boolean;
  onChange(): void;
}) {
  const box = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (box.current) box.current.indeterminate = some && !all;
  }, [some, all]);
  return (
    <input
      ref={box}
      type="checkbox"
      className="block size-3.5 accent-action"
      aria-label="Choose all"
      checked={all}
      disabled={disabled}
      onChange={onChange}
    />
  );
}

function Facts({ row }: { row: PileRow }) {
  const facts: { text: string; caution: boolean }[] = [];
  const late = lateWords(row.late);
  if (late) facts.push({ text: late, caution: true });
  if (row.overdue) facts.push({ text: 'overdue', caution: true });
  if (row.excused) facts.push({ text: 'excused', caution: false });
  if (row.unread) facts.push({ text: plural(row.unread, 'new word', 'new words'), caution: true });
  if (row.reading && row.reading.state !== 'done')
    facts.push(
      row.reading.state === 'failed'
        ? { text: 'pages cannot be read', caution: true }
        : {
            text: row.reading.total
              ? `reading page ${row.reading.done} of ${row.reading.total}`
              : 'pages wait to be read',
            caution: false,
          },
    );
  else if (row.pages !== null && row.pages > 0) facts.push({ text: `${row.pages} p.`, caution: false });
  else if (row.place !== 'with-student')
    facts.push({
      text: row.documents ? plural(row.documents, 'thing', 'things') : 'called done',
      caution: false,
    });
  if (row.place === 'marked' && row.grade === null) facts.push({ text: 'no grade', caution: true });
  return facts.map((f, i) => (
    <span key={f.text} className={f.caution ? 'text-caution' : undefined}>
      {i > 0 && ' · '}
      {f.text}
    </span>
  ));
}
