import { isMarginMark, likeNotes, likeSuggestions, MANY_NOTES, type Mark } from '@jotmark/core';
import { useDeferredValue, useMemo } from 'react';
import { plural } from '../time/words.ts';

/** A quiet measure of how full the margins are, and one step that makes fewer notes of like corrections. */
export function Thrift({ marks, onGather }: { marks: readonly Mark[]; onGather(): void }) {
  const still = useDeferredValue(marks);
  const { fullest, page, like } = useMemo(() => {
    const count = new Map<string, number>();
    for (const m of still)
      if (isMarginMark(m))
        count.set(`${m.document} ${m.page}`, (count.get(`${m.document} ${m.page}`) ?? 0) + 1);
    const [where, most] = [...count].reduce((a, b) => (b[1] > a[1] ? b : a), ['', 0] as [string, number]);
    const groups = [...likeNotes(still), ...likeSuggestions(still)];
    return {
      fullest: most,
      page: Number(where.split(' ')[1] ?? 0) + 1,
      like: groups.reduce((sum, g) => sum + g.length, 0),
    };
  }, [still]);
  if (fullest < MANY_NOTES && like === 0) return null;
  return (
    <p className="mt-3 text-sm text-soft">
      {fullest >= MANY_NOTES && `Page ${page} has ${fullest} notes. `}
      {like > 0 && (
        <button type="button" className="text-action hover:underline" onClick={onGather}>
          Group {plural(like, 'correction that is alike', 'corrections that are alike')}
        </button>
      )}
    </p>
  );
}
