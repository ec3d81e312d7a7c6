import { ChevronDown, ChevronUp, X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { IconButton } from '../frame/IconButton.tsx';

interface Props {
  readonly words: string;
  /** Which of the found ones is in sight, counted from 0. */
  readonly at: number;
  readonly found: number;
  onWords(words: string): void;
  onMove(by: 1 | -1): void;
  onClose(): void;
}

/** Looks for words on the pages, typed answers among them. */
export function FindBar({ words, at, found, onWords, onMove, onClose }: Props) {
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.select(), []);
  return (
    <search className="absolute top-3 right-5 z-20 flex items-center gap-1 rounded-lg border border-line bg-raised py-1 pr-1 pl-3 text-soft shadow-lg">
      <input
        ref={field}
        className="w-44 bg-transparent text-text outline-none"
        aria-label="Find on the pages"
        placeholder="Find on the pages"
        maxLength={200}
        value={words}
        onChange={(e) => onWords(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter') onMove(e.shiftKey ? -1 : 1);
          else if (e.key === 'Escape') onClose();
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
      />
      <span role="status" className="min-w-16 text-right text-sm tabular">
        {words.trim() === '' ? '' : found === 0 ? 'not found' : `${at + 1} of ${found}`}
      </span>
      <IconButton label="Previous match" icon={ChevronUp} disabled={found === 0} onClick={() => onMove(-1)} />
      <IconButton label="Next match" icon={ChevronDown} disabled={found === 0} onClick={() => onMove(1)} />
      <IconButton label="Close search" icon={X} onClick={onClose} />
    </search>
  );
}
