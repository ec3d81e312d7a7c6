import type { BookColumn, BookRule } from '@jotmark/core';
import { Menu } from '../frame/menu.tsx';
import type { useBookView } from './useBookView.ts';

interface Props {
  readonly view: ReturnType<typeof useBookView>;
  readonly columns: readonly BookColumn[];
  readonly rule: BookRule;
  readonly categories: readonly string[];
}

const select = 'min-h-9 rounded border border-line bg-paper px-2';

/** What of a mark book is looked at: a term, a kind of work, some of its columns; and in which order. */
export function BookTools({ view, columns, rule, categories }: Props) {
  const hidden = columns.filter((c) => view.hidden.has(c.id)).length;
  return (
    <>
      {rule.terms.length > 0 && (
        <select
          aria-label="Term"
          className={select}
          value={view.term?.name ?? ''}
          onChange={(e) => view.setTerm(rule.terms.find((t) => t.name === e.target.value) ?? null)}
        >
          <option value="">All terms</option>
          {rule.terms.map((t) => (
            <option key={t.name}>{t.name}</option>
          ))}
        </select>
      )}
      <select
        aria-label="Kind of work"
        className={select}
        value={view.category ?? 'all'}
        onChange={(e) => view.setCategory(e.target.value === 'all' ? null : e.target.value)}
      >
        <option value="all">All kinds of work</option>
        {categories.map((c) => (
          <option key={c} value={c}>
            {c || 'other work'}
          </option>
        ))}
      </select>
      <select
        aria-label="Order"
        className={`${select} max-w-52`}
        value={view.order}
        onChange={(e) => view.setOrder(e.target.value)}
      >
        <option value="name">By name</option>
        <option value="total">By total</option>
        {view.counted.map((c) => (
          <option key={c.id} value={c.id}>
            By {c.title}
          </option>
        ))}
      </select>
      <Menu
        label={hidden ? `Columns, ${hidden} hidden` : 'Columns'}
        className="min-h-9 rounded border border-line bg-paper px-3"
        to="bottom start"
        wide="w-80"
        entries={columns.map((c) => ({
          key: c.id,
          words: c.title,
          chosen: !view.hidden.has(c.id),
          onClick: () => view.hide(c.id, !view.hidden.has(c.id)),
        }))}
      >
        {hidden ? `Columns, ${hidden} hidden` : 'Columns'}
      </Menu>
    </>
  );
}
