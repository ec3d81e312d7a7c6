import type { CopyId, PileRow } from '@jotmark/core';
import { memo } from 'react';
import { Link } from 'react-router';
import { usePrepare } from '../ahead/ahead.ts';
import { addressOf } from '../api/call.ts';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';
import { addressOfCopy } from '../pile-order/copy-address.ts';

interface Props {
  readonly rows: readonly PileRow[];
  readonly chosen: ReadonlySet<CopyId>;
  /** Names are hidden in this pile. */
  readonly blind: boolean;
  /** A grade as it is read here. */
  say(grade: number): string;
  onToggle(id: CopyId): void;
}

/** The pile spread out: a small picture of every first page, with place and grade. */
export function PileSheets({ rows, chosen, blind, say, onToggle }: Props) {
  const prepare = usePrepare();
  return (
    <ul className="grid grid-cols-[repeat(auto-fill,minmax(128px,1fr))] gap-3 py-3">
      {rows.map((row) => (
        <Sheet
          key={row.copyId}
          row={row}
          chosen={chosen.has(row.copyId)}
          blind={blind}
          say={say}
          onToggle={onToggle}
          prepare={prepare}
        />
      ))}
    </ul>
  );
}

const Sheet = memo(function Sheet({
  row,
  chosen,
  blind,
  say,
  onToggle,
  prepare,
}: {
  row: PileRow;
  chosen: boolean;
  blind: boolean;
  say(grade: number): string;
  onToggle(id: CopyId): void;
  prepare: ReturnType<typeof usePrepare>;
}) {
  const name = `${row.student.given} ${row.student.family}`;
  const open = row.place !== 'with-student';
  const picture = (
    <span
      className={`grid aspect-[1/1.414] place-items-center overflow-hidden rounded-sm ${open ? 'bg-paper shadow' : 'border-2 border-dashed border-line-strong'}`}
    >
      {row.cover ? (
        <img
          src={addressOf('documentPicture', { documentId: row.cover })}
          alt=""
          loading="lazy"
          // A name at its head could be read: while names are hidden it is only seen how full it is.
          className={`size-full object-cover object-top ${blind ? 'blur-[3px]' : ''}`}
        />
      ) : (
        <PlaceGlyph place={row.place} size={30} />
      )}
    </span>
  );
  return (
    <li
      className={`rounded-lg p-1.5 [content-visibility:auto] ${chosen ? 'bg-action-wash outline-2 outline-action' : ''}`}
    >
      <Link
        to={addressOfCopy(row)}
        {...(row.handInId ? prepare(row.copyId) : {})}
        aria-label={row.handInId ? `Open the copy of ${name}` : `Score ${name}, nothing came in`}
      >
        {picture}
      </Link>
      <p className="mt-1 flex items-start gap-1.5 text-sm">
        <input
          type="checkbox"
          className="mt-1 size-3.5 accent-action"
          aria-label={`Choose ${name}`}
          checked={chosen}
          onChange={() => onToggle(row.copyId)}
        />
        <span className="min-w-0 flex-1">
          <span className="block truncate font-semibold">{name}</span>
          <span className="block text-xs text-soft">
            {row.excused && !open ? 'excused' : PLACE_WORDS[row.place]}
            {row.grade !== null && ` · ${say(row.grade)}`}
          </span>
        </span>
      </p>
    </li>
  );
});
