import { type BookColumn, type BookRule, type ClassId, inTerm, type Term } from '@jotmark/core';
import { useMemo, useState } from 'react';

/** What of a mark book is looked at; which columns are hidden is kept on this device. */
export function useBookView(classId: ClassId, columns: readonly BookColumn[], rule: BookRule) {
  const key = `jotmark.book-hidden.${classId}`;
  const [category, setCategory] = useState<string | null>(null);
  /** By name, by total, or by the grades of a piece of work. */
  const [order, setOrder] = useState<string>('name');
  const [term, setTerm] = useState<Term | null>(() => {
    const now = Date.now();
    return rule.terms.find((t) => t.from <= now && now < t.to) ?? null;
  });
  const [hidden, setHidden] = useState<ReadonlySet<string>>(() => new Set(readKept(key)));
  // A term that was changed or deleted meanwhile is looked up by its name.
  const now = term && (rule.terms.find((t) => t.name === term.name) ?? null);
  const counted = useMemo(
    () =>
      columns.filter((c) => (!now || inTerm(c.at, now)) && (category === null || c.category === category)),
    [columns, now, category],
  );
  const shown = useMemo(() => counted.filter((c) => !hidden.has(c.id)), [counted, hidden]);
  return {
    category,
    setCategory,
    order: order === 'name' || order === 'total' || columns.some((c) => c.id === order) ? order : 'name',
    setOrder,
    term: now,
    setTerm,
    counted,
    shown,
    hidden,
    hide: (id: string, hide: boolean) => {
      const next = new Set(hidden);
      if (hide) next.add(id);
      else next.delete(id);
      setHidden(next);
      localStorage.setItem(key, JSON.stringify([...next]));
    },
  };
}

function readKept(key: string): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key) ?? '[]');
    return Array.isArray(kept) ? kept.filter((k) => typeof k === 'string') : [];
  } catch {
    return [];
  }
}
