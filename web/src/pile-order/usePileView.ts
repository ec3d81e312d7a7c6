import { type AssignmentId, arrangePile, type PileRow, type PileView, WHOLE_PILE } from '@jotmark/core';
import { useCallback, useMemo, useSyncExternalStore } from 'react';

const place = (assignmentId: string) => `jotmark.pile.${assignmentId}`;
const listeners = new Set<() => void>();
const views = new Map<string, PileView>();

function read(assignmentId: string): PileView {
  const known = views.get(assignmentId);
  if (known) return known;
  let view = WHOLE_PILE;
  try {
    view = {
      ...WHOLE_PILE,
      ...(JSON.parse(sessionStorage.getItem(place(assignmentId)) ?? '{}') as PileView),
    };
  } catch {
    // What stands there is nobody's view: the whole pile.
  }
  views.set(assignmentId, view);
  return view;
}

/** How this pile is looked at: kept for this sitting, and the same at the desk, so that next and previous follow it. */
export function usePileView(
  assignmentId: AssignmentId,
): [view: PileView, change: (part: Partial<PileView>) => void] {
  const view = useSyncExternalStore(
    (changed) => {
      listeners.add(changed);
      return () => listeners.delete(changed);
    },
    () => read(assignmentId),
  );
  const change = useCallback(
    (part: Partial<PileView>) => {
      const next = { ...read(assignmentId), ...part };
      views.set(assignmentId, next);
      sessionStorage.setItem(place(assignmentId), JSON.stringify(next));
      for (const changed of listeners) changed();
    },
    [assignmentId],
  );
  return [view, change];
}

export function useArranged(rows: readonly PileRow[], view: PileView): PileRow[] {
  return useMemo(() => arrangePile(rows, view), [rows, view]);
}
