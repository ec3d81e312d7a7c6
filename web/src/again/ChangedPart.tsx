import { askedOnSheet, type Desk, type WordingChange } from '@jotmark/core';
import { Fold } from '../frame/Fold.tsx';
import { plural } from '../time/words.ts';
import type { InAgain } from './useInAgain.ts';

/** So many changes are listed. */
const LISTED = 200;

interface Props {
  readonly again: InAgain;
  readonly desk: Desk;
  /** Goes to a page of the copy on the desk, counted from 0. */
  onPage(page: number): void;
}

/** What is another than in the hand-in before: how much, which questions, word by word; on the page itself when it is wanted. */
export function ChangedPart({ again, desk, onPage }: Props) {
  const { earlier, compared } = again;
  if (!earlier) return null;
  const asked = desk.asked.flatMap((f) => askedOnSheet(f.questions, null));
  const changed = asked.filter((q) => earlier.changed.includes(q.id)).map((q) => q.label);
  return (
    <section
      className="mb-4 border-b border-dashed border-line-strong pb-3"
      aria-label={`Changed since hand-in ${earlier.number}`}
    >
      <h3 className="text-sm text-soft">Changed since hand-in {earlier.number}</h3>
      {compared ? (
        <p>
          {compared.changes.length === 0
            ? 'No words were changed.'
            : `${plural(compared.came, 'word', 'words')} added, ${compared.went} removed.`}
          {compared.newPages.length > 0 && ` New: page ${compared.newPages.map((p) => p + 1).join(', ')}.`}
          {compared.lostPages.length > 0 &&
            ` Not there any more: page ${compared.lostPages.map((p) => p + 1).join(', ')} of before.`}
        </p>
      ) : (
        <p className="text-soft">
          {again.incomparable
            ? 'There are no pages to compare word by word.'
            : 'Its pages are being compared …'}
        </p>
      )}
      {changed.length > 0 && <p>Questions with another answer: {changed.join(', ')}.</p>}
      {compared && compared.changes.length > 0 && (
        <>
          <label className="mt-1 flex items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="size-4 accent-action"
              checked={again.showsChanges}
              onChange={(e) => again.setShowsChanges(e.target.checked)}
            />
            Show on the pages
          </label>
          <Fold name="word-by-word" head="Word by word" className="mt-1 text-sm" headClass="text-action">
            <ol className="mt-1 space-y-1" aria-label="Changes">
              {compared.changes.slice(0, LISTED).map((c, i) => (
                <li key={i}>
                  <ChangeLine change={c} onPage={onPage} />
                </li>
              ))}
            </ol>
          </Fold>
        </>
      )}
      <label className="mt-2 flex items-center gap-2 text-sm">
        <span className="text-soft">Show hand-in {earlier.number} on top</span>
        <input
          type="range"
          min={0}
          max={100}
          step={5}
          className="min-w-0 flex-1 accent-action"
          value={again.overlay}
          onChange={(e) => again.setOverlay(Number(e.target.value))}
        />
      </label>
    </section>
  );
}

function ChangeLine({ change, onPage }: { change: WordingChange; onPage(page: number): void }) {
  const page = change.cameAt[0]?.page ?? change.behind?.page ?? 0;
  return (
    <button
      type="button"
      className="w-full rounded px-1 text-left break-words hover:bg-action-wash"
      onClick={() => onPage(page)}
    >
      {change.went && <del className="text-soft">{shorten(change.went)}</del>}
      {change.went && change.came && ' '}
      {change.came && <ins className="font-semibold no-underline">{shorten(change.came)}</ins>}
      <span className="text-soft"> · page {page + 1}</span>
    </button>
  );
}

const shorten = (text: string) => (text.length > 160 ? `${text.slice(0, 158)}…` : text);
