import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { STARTER_TRAY } from '@jotmark/core';

export const KEYS: readonly (readonly [keys: string, does: string])[] = [
  [`1 … ${STARTER_TRAY.length}`, 'take a pen from the tray'],
  ['e', 'rub out'],
  ['h', 'hand: pick, move, drag the paper'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['Delete', 'take the picked mark away'],
  ['Arrows', 'move the picked mark (with Shift: further)'],
  ['Esc', 'let go'],
  ['t', 'walk the words of the page: arrows move, Shift extends, Enter marks them with the pen in hand'],
  ['g', 'to the grade'],
  ['c', 'to the closing words'],
  ['Ctrl ↵', 'marked, next copy'],
  ['n   b', 'next copy, copy before'],
  ['+   −', 'larger, smaller'],
  ['w   p', 'fit the width, fit the page'],
  ['r', 'turn this page'],
  ['s', 'fold the slip away'],
  ['Page Up, Page Down', 'along the pages'],
];

/** A sheet of the keys, for whoever asks with a question mark. */
export function KeySheet({ open, onClose }: { open: boolean; onClose(): void }) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-text/30" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center p-4">
        <DialogPanel className="max-h-full w-full max-w-xl overflow-auto rounded-xl bg-raised p-6 shadow-xl">
          <DialogTitle className="text-xl font-bold">Keys at the desk</DialogTitle>
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
            A pen writes, fingers move the paper, a resting palm does nothing. The pen’s other end rubs out.
          </p>
          <button type="button" className="act mt-5" onClick={onClose}>
            Back to the desk
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
