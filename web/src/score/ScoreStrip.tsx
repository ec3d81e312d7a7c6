import { type CopyId, formatGrade, type PileRow, type Scale } from '@jotmark/core';
import { Link } from 'react-router';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';
import { addressOfCopy } from '../pile-order/copy-address.ts';

/** The pile beside what is scored: everybody, with what they have so far. */
export function ScoreStrip({
  rows,
  here,
  most,
  scale,
}: {
  rows: readonly PileRow[];
  here: CopyId;
  most: number | null;
  scale: Scale;
}) {
  return (
    <nav
      aria-label="The pile"
      className="w-60 shrink-0 overflow-y-auto border-r border-line bg-tray py-2 max-md:hidden"
    >
      <ol>
        {rows.map((row) => {
          const name = `${row.student.given} ${row.student.family}`;
          const isHere = row.copyId === here;
          return (
            <li key={row.copyId} className="px-1.5">
              <Link
                to={addressOfCopy(row)}
                aria-current={isHere ? 'page' : undefined}
                aria-label={`${name}, ${PLACE_WORDS[row.place]}`}
                className={`flex min-h-7 items-center gap-2 rounded px-2 text-sm tabular ${isHere ? 'border-2 border-action bg-paper font-bold' : 'text-soft hover:bg-raised'}`}
              >
                <PlaceGlyph place={row.place} size={15} />
                <span className="min-w-0 flex-1 truncate">{name}</span>
                {row.grade === null || most === null ? '' : formatGrade(row.grade, most, scale)}
              </Link>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
