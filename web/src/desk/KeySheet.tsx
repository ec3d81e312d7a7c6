import { DialogShell } from '../frame/DialogShell.tsx';

export const KEYS: readonly (readonly [keys: string, does: string])[] = [
  ['1 … 9, 0', 'take a pen from the tray; held while you draw, it is lent until you let go'],
  ['q', 'the next tray'],
  ['h   l', 'hand: pick, move, drag the paper; gather: draw round marks to pick them'],
  ['e   d', 'rub out marks; rub out a part of a stroke'],
  ['Shift', 'while you draw: straight; while you pick: one more'],
  ['m   Shift M', 'to the next mark, to the one before'],
  ['Ctrl A', 'pick all marks of the page'],
  ['Arrows', 'move what is picked (with Shift: further; with Ctrl: larger, smaller)'],
  ['Shift 1 … 0', 'another pen for what is picked'],
  ['Enter', 'write in what is picked'],
  ['Ctrl C   Ctrl V', 'copy what is picked; put it on this page, of this copy or another'],
  ['Ctrl D', 'double what is picked'],
  ['Delete', 'take what is picked away'],
  ['Ctrl Z', 'undo (with Shift: redo)'],
  ['Esc', 'let go'],
  ['Tab   Alt 1 … 9', 'while you write: take the phrase that fits; a favourite by its own key'],
  ['Alt 1 … 9', 'your favourite phrase: on the words you walked to, or where the pen goes next'],
  ['Alt K', 'keep the comment you write in your bank'],
  ['j', 'the comment bank beside the copy'],
  ['a', 'more places for the note in hand: tap each; Esc ends'],
  ['x', 'the note in hand also where the same words stand; of a correction: let the student find the others'],
  ['Alt R', 'while you swap words: write the whole sentence anew; only what changes is suggested'],
  ['Ctrl B   Ctrl I', 'while you write: bold, italic; a dash before a line begins a list'],
  ['t', 'walk the words of the page: arrows move, Shift extends, Enter marks them with the pen in hand'],
  ['g   c', 'to the grade, to the closing words'],
  ['u', 'to what is scored next: the next open question, the rubric'],
  ['1 … 9   x', 'in the rubric: this level, not shown (Shift 3: between 3 and the next; Alt 3: all of them)'],
  ['Enter', 'in the rubric: comment on the criterion'],
  ['z', 'the points in hand to the next question'],
  ['Ctrl ↵', 'marked, next copy'],
  ['n   b', 'next copy, copy before'],
  ['+   −', 'larger, smaller'],
  ['w   p', 'fit the width, fit the page'],
  ['r', 'turn this page'],
  ['/   Ctrl F', 'find words on the pages'],
  [
    'v',
    'record: hold it and talk, or press it once to begin and once to stop; about the note in hand, or where you point',
  ],
  ['Shift V', 'record about the whole copy'],
  ['Alt V', 'while you write a note: record it'],
  ['y', 'compare with earlier hand-ins, the clean worksheet, the material'],
  ['o', 'to the other document of the hand-in'],
  ['s   i   k   f', 'fold the slip, the strip of the pile, the strip of the pages, the margin'],
  ['Page Up, Page Down', 'along the pages'],
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
        A pen writes, fingers move the paper, a resting palm does nothing. The pen’s other end rubs out, the
        button on its barrel lends the hand. A line, ring or box held still at its end becomes exact.
      </p>
      <button type="button" className="act mt-5" onClick={onClose}>
        Back to the desk
      </button>
    </DialogShell>
  );
}
