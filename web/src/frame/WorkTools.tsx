import { inUse, type Told, type WorkView } from '@jotmark/core';
import { useSearchParams } from 'react-router';

/** How a list of set work is narrowed and grouped: it stands in the address, so that it can be come back to. */
export function useWorkView(): [WorkView, (part: Partial<WorkView>) => void] {
  const [search, setSearch] = useSearchParams();
  const by = search.get('by');
  const view: WorkView = {
    unit: search.get('unit'),
    category: search.get('category'),
    by: by === 'unit' || by === 'category' ? by : null,
  };
  const set = (part: Partial<WorkView>) => {
    const next = new URLSearchParams(search);
    for (const [key, value] of Object.entries(part)) {
      if (value === null) next.delete(key);
      else next.set(key, value);
    }
    setSearch(next, { replace: true });
  };
  return [view, set];
}

/** Picks a unit, a category, and by which of them a list is grouped, from those in use; nothing where there is nothing to pick from. */
export function WorkTools({
  work,
  view,
  onView,
}: {
  work: readonly Told[];
  view: WorkView;
  onView(part: Partial<WorkView>): void;
}) {
  const units = inUse(work, 'unit');
  const categories = inUse(work, 'category');
  const whole = view.unit === null && view.category === null && view.by === null;
  if (units.length + categories.length < 2 && whole) return null;
  const pick = (label: string, all: string, key: 'unit' | 'category', names: readonly string[]) =>
    names.length > 0 && (
      <select
        aria-label={label}
        className="min-h-9 max-w-56 rounded border border-line bg-paper px-2 text-sm"
        value={view[key] ?? ''}
        onChange={(e) => onView({ [key]: e.target.value || null })}
      >
        <option value="">{all}</option>
        {names.map((name) => (
          <option key={name} value={name}>
            {name}
          </option>
        ))}
      </select>
    );
  return (
    <div className="flex flex-wrap items-center gap-2">
      {pick('Unit', 'All units', 'unit', units)}
      {pick('Category', 'All categories', 'category', categories)}
      <select
        aria-label="Grouped by"
        className="min-h-9 rounded border border-line bg-paper px-2 text-sm"
        value={view.by ?? ''}
        onChange={(e) => onView({ by: (e.target.value || null) as WorkView['by'] })}
      >
        <option value="">Not grouped</option>
        <option value="unit">Grouped by unit</option>
        <option value="category">Grouped by category</option>
      </select>
    </div>
  );
}

/** The name of a group; of what belongs to none. */
export const groupName = (name: string, by: WorkView['by']): string =>
  name || (by === 'unit' ? 'Without a unit' : by === 'category' ? 'Without a category' : '');
