import { EyeOff } from 'lucide-react';
import type { NamesNow } from './useNames.ts';

/** Tells before anything is marked that a name stands on the pages of a blind copy, and that it is covered. */
export function NamesBar({ names: { pages, shown, show } }: { names: NamesNow }) {
  if (pages.length === 0) return null;
  return (
    <p
      role="status"
      className="absolute top-3 left-1/2 z-20 flex -translate-x-1/2 items-center gap-3 rounded-lg bg-raised py-1.5 pr-1.5 pl-3 shadow-md"
    >
      <EyeOff size={16} aria-hidden="true" className="shrink-0 text-soft" />
      <span>
        A student’s name stands on {said(pages)}. It is {shown ? 'shown' : 'covered'}.
      </span>
      <button type="button" className="quiet !min-h-8 !py-1" onClick={() => show(!shown)}>
        {shown ? 'Cover the name' : 'Show the name'}
      </button>
    </p>
  );
}

function said(pages: readonly number[]): string {
  if (pages.length === 1) return `page ${pages[0]}`;
  if (pages.length > 5) return `${pages.length} pages`;
  return `pages ${pages.slice(0, -1).join(', ')} and ${pages.at(-1)}`;
}
