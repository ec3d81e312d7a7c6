import type { CopyId, PileRow } from '@jotmark/core';
import { memo, useEffect, useRef } from 'react';
import { Link } from 'react-router';
import { usePrepare } from '../ahead/ahead.ts';
import { Divider } from '../frame/Divider.tsx';
import { tip } from '../frame/tip.ts';
import { LEAST_SIZES, MOST_SIZES } from '../layout/useDeskLayout.ts';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';

/** Where there is little room: "Ada S.", a group's names, a code. */
const shortName = ({ given, family }: PileRow['student']): string =>
  family ? `${given} ${family[0]}.`.trim() : given;

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
  const done = rows.filter((r) => r.place === 'marked' || r.place === 'handed-back').length;
  return (
    <nav
      aria-label="The pile"
      className="relative flex shrink-0 flex-col border-r border-line bg-tray"
      style={{ width }}
    >
      <Divider
        label="Width of the pile"
        edge="right"
        value={width}
        least={LEAST_SIZES.strip}
        most={MOST_SIZES.strip}
        onValue={onWidth}
      />
      <ol className="min-h-0 flex-1 overflow-y-auto py-2">
        {rows.map((row) => {
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
                    {width >= NAMED && <span className="min-w-0 flex-1 truncate">{name}</span>}
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
