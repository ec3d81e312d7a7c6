import { leadPoint, type MarginMark, type PageView, toScreen } from '@jotmark/core';

/** How far above the place it is about a number stands, in CSS pixels: the words stay to be read. */
const ABOVE = 24;

/** On a telephone there is no margin: each note is a small number beside its place, which opens it. */
export function NoteNumbers({
  notes,
  page,
  view,
  active,
  onGo,
}: {
  notes: readonly MarginMark[];
  page: { readonly document: string; readonly page: number };
  view: PageView;
  active: string | null;
  onGo(note: MarginMark): void;
}) {
  return notes.map((note, i) => {
    if (note.document !== page.document || note.page !== page.page) return null;
    const [x, y] = toScreen(view, leadPoint(note));
    return (
      <button
        key={note.id}
        type="button"
        data-own-pointer
        aria-label={`Note ${i + 1}`}
        aria-current={note.id === active ? 'true' : undefined}
        // Small to see, large to touch.
        className={`absolute z-10 grid size-6 place-items-center rounded-full border text-xs font-bold tabular before:absolute before:-inset-2.5 before:content-[''] ${note.id === active ? 'border-action bg-action text-white' : 'border-action bg-raised text-action'}`}
        style={{ left: x - 6, top: y - ABOVE - 12 }}
        onClick={() => onGo(note)}
      >
        {i + 1}
      </button>
    );
  });
}
