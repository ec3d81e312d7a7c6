import { STUDENT_TRAY } from '@jotmark/core';
import { arrows, type KeyBinding, useKeys, wayOf } from '../frame/useKeys.ts';

export interface CopyKeys {
  undo(): void;
  redo(): void;
  takePen(index: number): void;
  remove(): void;
  /** False when nothing can be moved. */
  nudge(dx: number, dy: number): boolean;
  letGo(): void;
}

const isAnswer = (target: HTMLElement) => target.matches('[data-question]');
const PENS = STUDENT_TRAY.map((_, i) => String(i + 1)).join(' ');

/** Keys of a student's copy. Undo is ours in the answers too: it also takes back what was typed before a reload. */
export function useCopyKeys(k: CopyKeys): void {
  const bindings: KeyBinding[] = [
    { keys: '$mod+z', does: k.undo, inFields: isAnswer },
    { keys: '$mod+Shift+z', does: k.redo, inFields: isAnswer },
    { keys: PENS, does: (e) => k.takePen(Number(e.key) - 1) },
    { keys: 'Delete Backspace', does: k.remove },
    { keys: 'Escape', does: k.letGo },
    { keys: arrows(), does: (e) => !isAnswer(e.target as HTMLElement) && k.nudge(...wayOf(e)) },
  ];
  useKeys(bindings);
}
