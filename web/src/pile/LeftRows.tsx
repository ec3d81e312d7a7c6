import { type PileRow, registerName } from '@jotmark/core';
import { Link } from 'react-router';
import { Fold } from '../frame/Fold.tsx';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';
import { plural } from '../time/words.ts';

/** Copies of students who have left the class: their lines stay, below the pile, and count nowhere. */
export function LeftRows({ rows, say }: { rows: readonly PileRow[]; say(grade: number): string }) {
  if (rows.length === 0) return null;
  return (
    <Fold
      name="pile.left"
      className="mt-4 rounded-lg bg-raised px-4 py-2 shadow-sm"
      headClass="text-soft"
      head={`${plural(rows.length, 'student has', 'students have')} left the class`}
    >
      <ul className="mt-1 divide-y divide-line">
        {rows.map((r) => (
          <li key={r.copyId} className="flex min-h-8 flex-wrap items-center gap-x-3">
            <PlaceGlyph place={r.place} size={15} />
            {r.handInNumber > 0 ? (
              <Link to={`/desk/${r.copyId}`} className="font-semibold hover:text-action hover:underline">
                {registerName(r.student)}
              </Link>
            ) : (
              <span className="font-semibold">{registerName(r.student)}</span>
            )}
            <span className="text-soft">
              {PLACE_WORDS[r.place]}
              {r.grade !== null && ` · ${say(r.grade)}`}
            </span>
          </li>
        ))}
      </ul>
    </Fold>
  );
}
