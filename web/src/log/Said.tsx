import { plainWords } from '@jotmark/core';
import type { ReactNode } from 'react';

/** Words that can be taken over into a report by one move. */
export function Said({
  words,
  onTake,
  children,
}: {
  words: string;
  onTake: ((words: string) => void) | undefined;
  children: ReactNode;
}) {
  if (!onTake || !words) return <>{children}</>;
  return (
    <div className="flex items-start gap-2">
      <div className="min-w-0">{children}</div>
      <button
        type="button"
        className="shrink-0 rounded border border-line px-1.5 text-xs text-action hover:bg-action-wash"
        aria-label={`Add to report: ${plainWords(words).slice(0, 60)}`}
        onClick={() => onTake(plainWords(words))}
      >
        Add to report
      </button>
    </div>
  );
}
