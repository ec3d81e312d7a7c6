import { useState } from 'react';
import { WordsWished } from '../worksheets/WordsWished.tsx';

/** For an essay or a report: lined pages and no worksheet under them. About how many words can be wished for. */
export function PagesToWriteOn({ onAdd }: { onAdd(words: number | null): void }) {
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState<number | null>(null);
  if (!open)
    return (
      <button type="button" className="quiet" onClick={() => setOpen(true)}>
        Pages to write on
      </button>
    );
  return (
    <form
      className="flex w-full flex-wrap items-center gap-3 rounded-lg bg-action-wash p-3"
      aria-label="Pages to write on"
      onSubmit={(e) => {
        e.preventDefault();
        setOpen(false);
        onAdd(words);
      }}
    >
      <span className="basis-full text-sm">
        Each student gets lined pages that grow as they write, with headings, lists, tables and pictures.
      </span>
      <WordsWished value={words} onChange={setWords} />
      <button type="submit" className="act">
        Add pages
      </button>
      <button type="button" className="quiet" onClick={() => setOpen(false)}>
        Cancel
      </button>
    </form>
  );
}
