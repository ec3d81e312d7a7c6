import { fits, type PileFilter, type PileRow, type PileSort, type PileView } from '@jotmark/core';
import { ArrowDownUp, LayoutGrid, Rows3, Search, Shuffle } from 'lucide-react';
import { tip } from '../frame/tip.ts';
import { PLACE_WORDS } from '../look/glyphs.tsx';

const FILTERS: readonly (readonly [PileFilter, string])[] = [
  ['all', 'all copies'],
  ['in', PLACE_WORDS.in],
  ['in-again', PLACE_WORDS['in-again']],
  ['being-marked', PLACE_WORDS['being-marked']],
  ['marked', PLACE_WORDS.marked],
  ['handed-back', PLACE_WORDS['handed-back']],
  ['with-student', PLACE_WORDS['with-student']],
  ['late', 'late'],
  ['overdue', 'overdue'],
  ['unopened', 'not opened yet'],
  ['excused', 'excused'],
  ['words', 'with new messages'],
];
const SORTS: readonly (readonly [PileSort, string])[] = [
  ['name', 'by name'],
  ['time', 'by time'],
  ['place', 'by status'],
  ['grade', 'by grade'],
  ['length', 'by length'],
  ['shuffled', 'shuffled'],
];

/** What of the pile is looked at, in which order, and as lines or as sheets. The desk goes through it in the same way. */
export function PileTools({
  rows,
  view,
  form,
  onView,
  onForm,
}: {
  rows: readonly PileRow[];
  view: PileView;
  form: 'lines' | 'sheets';
  onView(part: Partial<PileView>): void;
  onForm(form: 'lines' | 'sheets'): void;
}) {
  const box = 'min-h-8 rounded border border-line bg-paper px-2 text-sm';
  const count = (filter: PileFilter) => rows.filter((r) => fits(r, filter)).length;
  return (
    <div className="flex flex-wrap items-center gap-2">
      <label className="relative">
        <span className="sr-only">Search by name</span>
        <Search size={15} aria-hidden="true" className="absolute top-2 left-2 text-soft" />
        <input
          type="search"
          className={`${box} w-40 pl-7`}
          placeholder="name"
          value={view.search}
          onChange={(e) => onView({ search: e.target.value })}
        />
      </label>
      <select
        aria-label="Which copies"
        className={box}
        value={view.filter}
        onChange={(e) => onView({ filter: e.target.value as PileFilter })}
      >
        {FILTERS.map(([filter, words]) => {
          const n = count(filter);
          return n > 0 || filter === view.filter || filter === 'all' ? (
            <option key={filter} value={filter}>
              {words} ({n})
            </option>
          ) : null;
        })}
      </select>
      <select
        aria-label="Order of the copies"
        className={box}
        value={view.sort}
        onChange={(e) => {
          const sort = e.target.value as PileSort;
          onView({
            sort,
            down: false,
            ...(sort === 'shuffled' ? { seed: Math.floor(Math.random() * 1e9) } : {}),
          });
        }}
      >
        {SORTS.map(([sort, words]) => (
          <option key={sort} value={sort}>
            {words}
          </option>
        ))}
      </select>
      <button
        type="button"
        aria-label={view.sort === 'shuffled' ? 'Shuffle again' : 'Reverse'}
        {...tip(view.sort === 'shuffled' ? 'Shuffle again' : 'Reverse')}
        aria-pressed={view.sort === 'shuffled' ? undefined : view.down}
        className={`grid size-8 place-items-center rounded border ${view.down ? 'border-action bg-action-wash' : 'border-line'}`}
        onClick={() =>
          onView(view.sort === 'shuffled' ? { seed: Math.floor(Math.random() * 1e9) } : { down: !view.down })
        }
      >
        {view.sort === 'shuffled' ? (
          <Shuffle size={16} aria-hidden="true" />
        ) : (
          <ArrowDownUp size={16} aria-hidden="true" />
        )}
      </button>
      <fieldset className="flex overflow-hidden rounded border border-line">
        <legend className="sr-only">View</legend>
        {(
          [
            ['lines', 'List', Rows3],
            ['sheets', 'Pages', LayoutGrid],
          ] as const
        ).map(([key, words, Icon]) => (
          <button
            key={key}
            type="button"
            aria-label={words}
            {...tip(words)}
            aria-pressed={form === key}
            className={`grid size-8 place-items-center ${form === key ? 'bg-action text-white' : 'hover:bg-action-wash'}`}
            onClick={() => onForm(key)}
          >
            <Icon size={16} aria-hidden="true" />
          </button>
        ))}
      </fieldset>
    </div>
  );
}
