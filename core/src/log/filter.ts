import type { LogBack, LogEntry } from './entry.ts';

/** What of a log is looked at. Null: all. */
export interface LogFilter {
  readonly unit: string | null;
  /** Kind of work: a category, or what a remark names. */
  readonly work: string | null;
  readonly strand: string | null;
  readonly focus: string | null;
}
export const WHOLE_LOG: LogFilter = { unit: null, work: null, strand: null, focus: null };

/**
 * The entries that fit. A unit belongs to work and a strand to remarks, so either leaves the other out; of a focus work is shown with those of its notes that
 * are about it.
 */
export function filterLog(entries: readonly LogEntry[], filter: LogFilter): LogEntry[] {
  return entries.flatMap((e): LogEntry[] => {
    if (filter.work !== null && (e.of === 'work' ? e.category : e.work) !== filter.work) return [];
    if (filter.unit !== null && (e.of !== 'work' || e.unit !== filter.unit)) return [];
    if (filter.strand !== null && (e.of !== 'remark' || e.strand !== filter.strand)) return [];
    if (filter.focus === null) return [e];
    if (e.of !== 'work') return [];
    const notes = e.notes.filter((n) => n.focus === filter.focus);
    return notes.length ? [{ ...e, notes }] : [];
  });
}

/** What one can choose from, each once, in order. */
export function logChoices(entries: readonly LogEntry[]): {
  readonly units: string[];
  readonly works: string[];
  readonly strands: string[];
  readonly focuses: string[];
} {
  const works = entries.filter((e): e is LogBack => e.of === 'work');
  const sorted = (all: readonly string[]) => [...new Set(all.filter(Boolean))].sort();
  return {
    units: sorted(works.map((e) => e.unit)),
    works: sorted(entries.map((e) => (e.of === 'work' ? e.category : e.work))),
    strands: sorted(entries.map((e) => (e.of === 'remark' ? e.strand : ''))),
    focuses: sorted(works.flatMap((e) => e.notes.map((n) => n.focus ?? ''))),
  };
}
