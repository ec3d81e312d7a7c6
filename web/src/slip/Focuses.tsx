import { countFocuses, type Focus, isMarginMark, type Mark } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useMemo, useState } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { onDemand } from '../frame/on-demand.tsx';
import { FocusSignGlyph } from '../look/glyphs.tsx';

export const focusesQuery = {
  queryKey: keys.focuses,
  queryFn: () => call('focuses'),
  staleTime: Number.POSITIVE_INFINITY,
};

const FocusEditor = onDemand(() => import('./FocusEditor.tsx').then((m) => m.FocusEditor));
const NONE: readonly Focus[] = [];

/** What the marks of this copy are about, and how often: so that one sees how much praise there is, and how much of one thing. */
export function Focuses({ marks, changes }: { marks: readonly Mark[]; changes: boolean }) {
  const still = useDeferredValue(marks);
  const own = useQuery({ ...focusesQuery, enabled: changes }).data ?? NONE;
  const counts = useMemo(
    () =>
      countFocuses(
        still.filter((m) => isMarginMark(m) || m.kind === 'highlight'),
        own,
      ),
    [still, own],
  );
  const [open, setOpen] = useState(false);
  return (
    <div
      className="mt-4 flex flex-wrap items-center gap-x-3 gap-y-1 text-sm text-soft"
      role="group"
      aria-label="Focuses"
    >
      {counts.map((f) => (
        <span key={f.name} className="inline-flex items-center gap-1">
          <FocusSignGlyph colour={f.colour} sign={f.sign} size={10} />
          {f.name} <b className="text-text tabular">{f.count}</b>
        </span>
      ))}
      {changes && (
        <button type="button" className="text-action hover:underline" onClick={() => setOpen(true)}>
          Focuses …
        </button>
      )}
      {open && <FocusEditor before={own} onClose={() => setOpen(false)} />}
    </div>
  );
}
