import { DialogShell } from '../frame/DialogShell.tsx';

export const KEYS: readonly (readonly [keys: string, does: string])[] = [
  ['1 … 9, 0', 'choose a pen of the tray; hold the key while you draw and you have it only until you let go'],
  ['q', 'next tray'],
  ['h   l', 'Select: select and move marks, drag the page; Lasso: draw round marks to select them'],
  ['e   d', 'Eraser; Part eraser: a part of a stroke'],
  ['Shift', 'while you draw: straight; while you select: one more'],
  ['m   Shift M', 'next mark, previous mark'],
  ['Ctrl A', 'select all marks of the page'],
  ['Arrows', 'move what is selected (with Shift: further; with Ctrl: larger, smaller)'],
  ['Shift 1 … 0', 'change the pen of what is selected'],
  ['Enter', 'write in what is selected'],
  ['Ctrl C   Ctrl V', 'copy what is selected; paste it on this page, of this copy or another'],
  ['Ctrl D', 'duplicate what is selected'],
  ['Delete', 'delete what is selected'],
  ['Ctrl Z', 'undo (with Shift: redo)'],
  ['Esc', 'deselect'],
  ['Tab   Alt 1 … 9', 'while you write: accept the phrase that fits; a favourite by its own key'],
  ['Alt 1 … 9', 'your favourite phrase: on the words you walked to, or where the pen goes next'],
  ['Alt K', 'save the comment you write in your bank'],
  ['j', 'the comment bank beside the copy'],
  ['a', 'more places for the selected note: tap each; Esc ends'],
  [
    'x',
    'the selected note also where the same words stand; for a correction: let the student find the others',
  ],
  ['Alt R', 'while you swap words: rewrite the whole sentence; only what changes is suggested'],
  ['Ctrl B   Ctrl I', 'while you write: bold, italic; a dash before a line begins a list'],
  ['t', 'choose words by keys: arrows move, Shift extends, Enter marks them with your pen'],
  ['g   c', 'go to the grade, to the closing words'],
  ['u', 'go to what is scored next: the next open question, the rubric'],
  ['1 … 9   x', 'in the rubric: this level, not shown (Shift 3: between 3 and the next; Alt 3: all of them)'],
  ['Enter', 'in the rubric: comment on the criterion'],
  ['z', 'give the selected points to the next question'],
  ['Ctrl ↵', 'marked, next copy'],
  ['n   b', 'next copy, previous copy'],
  ['Shift N', 'find a copy by name'],
  ['+   −', 'zoom in, zoom out'],
  ['w   p', 'fit the width, fit the page'],
  ['r', 'turn this page'],
  ['/   Ctrl F', 'find words on the pages'],
  [
    'v',
    'record: hold it and talk, or press it once to begin and once to stop; about the selected note, or where you point',
  ],
  ['Shift V', 'record about the whole copy'],
  ['Alt V', 'while you write a note: record it'],
  ['y', 'compare with earlier hand-ins, the clean worksheet, the material'],
  ['o', 'the next document of the hand-in'],
  ['s   i   k   f', 'show or hide the score slip, the copies, the pages, the margin'],
  ['Page Up, Page Down', 'previous page, next page'],
];

/** A sheet of the keys, for whoever asks with a question mark. */
export function KeySheet({ onClose }: { onClose(): void }) {
  return (
    <DialogShell open title="Keys at the desk" width="middle" onClose={onClose}>
      <dl className="mt-4 grid grid-cols-[10rem_1fr] gap-x-4 gap-y-1.5">
        {KEYS.map(([keys, does]) => (
          <div key={keys} className="contents">
            <dt>
              <span className="key !text-sm !leading-5">{keys}</span>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-4 text-sm text-soft">
        A pen writes, fingers move the paper, a resting palm does nothing. The pen’s other end erases, the
        button on its barrel selects. A line, ring or box held still at its end becomes exact.
      </p>
      <button type="button" className="act mt-5" onClick={onClose}>
        Back to the desk
      </button>
    </DialogShell>
  );
}
