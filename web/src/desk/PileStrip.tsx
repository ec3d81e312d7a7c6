import type { CopyId, PileRow } from '@jotmark/core';
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { usePrepare } from '../ahead/ahead.ts';
import { Divider } from '../frame/Divider.tsx';
import { tip } from '../frame/tip.ts';
import { LEAST_SIZES, MOST_SIZES } from '../layout/useDeskLayout.ts';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';

/** Where there is little room: "Ada S.", a group's names, a code. */
const shortName = ({ given, family }: PileRow['student']): string =>
  family ? `${given} ${family[0]}.`.trim() : given;

/** The field by which a copy is found. */
export const FIND_COPY = 'find-copy';

const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLocaleLowerCase('en');

/** Copies of which some part of the name begins like this; without marks over letters, as one types in haste. Nothing typed: all. */
export function byName(rows: readonly PileRow[], typed: string): readonly PileRow[] {
  const wanted = plain(typed).trim().split(/\s+/).filter(Boolean);
  if (wanted.length === 0) return rows;
  return rows.filter(({ student }) => {
    const parts = plain(`${student.given} ${student.family}`).split(/[\s,-]+/);
    return wanted.every((w) => parts.some((p) => p.startsWith(w)));
  });
}

/** From this width on there is room for names, in CSS pixels. */
const NAMED = 150;

/** The pile as a thin strip at the edge: which copy this is, which are done, which comes next. */
export const PileStrip = memo(function PileStrip({
  rows,
  here,
  say,
  width,
  onWidth,
}: {
  rows: readonly PileRow[];
  here: CopyId;
  /** A grade as it is read here. */
  say(grade: number): string;
  /** In CSS pixels; where there is room for them the names are written out. */
  width: number;
  onWidth(to: number): void;
}) {
  const prepare = usePrepare();
  const current = useRef<HTMLAnchorElement>(null);
  useEffect(() => {
    current.current?.scrollIntoView({ block: 'nearest' });
  }, [here]);
  const [typed, setTyped] = useState('');
  const navigate = useNavigate();
  const found = useMemo(() => byName(rows, typed), [rows, typed]);
  const leaveSearch = () => {
    setTyped('');
    (document.activeElement as HTMLElement | null)?.blur();
  };
  const done = rows.filter((r) => r.place === 'marked' || r.place === 'handed-back').length;
  return (
    <nav
      aria-label="Copies"
      className="relative flex shrink-0 flex-col border-r border-line bg-tray"
      style={{ width }}
    >
      <Divider
        label="Width of the copies"
        edge="right"
        value={width}
        least={LEAST_SIZES.strip}
        most={MOST_SIZES.strip}
        onValue={onWidth}
      />
      <input
        id={FIND_COPY}
        type="search"
        aria-label="Find a copy by name"
        placeholder="Name"
        autoComplete="off"
        className="m-1.5 mb-0 h-8 min-w-0 rounded border border-line bg-paper px-1.5 text-sm"
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Escape') leaveSearch();
          else if (e.key === 'Enter' && found[0]) {
            leaveSearch();
            navigate(`/desk/${found[0].copyId}`);
          }
        }}
      />
      <ol className="min-h-0 flex-1 overflow-y-auto py-2">
        {found.length === 0 && <li className="px-2 text-xs text-soft">No copy of that name.</li>}
        {found.map((row) => {
          const name = `${row.student.given} ${row.student.family}`;
          const isHere = row.copyId === here;
          return (
            <li key={row.copyId} className="px-1.5">
              <Link
                ref={isHere ? current : null}
                to={`/desk/${row.copyId}`}
                {...prepare(row.copyId)}
                aria-current={isHere ? 'page' : undefined}
                aria-label={`${name}, ${PLACE_WORDS[row.place]}`}
                {...tip(name)}
                onClick={() => setTyped('')}
                className={`flex min-h-6 items-center gap-2 rounded px-2 text-sm tabular ${isHere ? 'my-1 min-h-14 flex-col items-start justify-center gap-0.5 border-2 border-action bg-paper font-bold' : 'text-soft hover:bg-raised'}`}
              >
                {isHere ? (
                  <>
                    <span className="w-full text-xs leading-tight break-words">
                      {width >= NAMED ? name : shortName(row.student)}
                    </span>
                    <PlaceGlyph place={row.place} size={15} />
                  </>
                ) : (
                  <>
                    <PlaceGlyph place={row.place} size={15} />
                    {(width >= NAMED || typed !== '') && (
                      <span className="min-w-0 flex-1 truncate">
                        {width >= NAMED ? name : shortName(row.student)}
                      </span>
                    )}
                    {row.grade === null ? '' : say(row.grade)}
                  </>
                )}
              </Link>
            </li>
          );
        })}
      </ol>
      <p className="border-t border-line p-2 text-center text-sm">
        <strong className="tabular">{done}</strong> of {rows.length}
        <span className="block text-xs text-soft">marked</span>
      </p>
    </nav>
  );
});
