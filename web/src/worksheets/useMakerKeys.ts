import type { Grip } from '@jotmark/core';
import { arrows, type KeyBinding, useKeys, wayOf } from '../frame/useKeys.ts';

export interface MakerKeys {
  takeAll(): void;
  newByKey(): void;
  undo(): void;
  redo(): void;
  remove(): void;
  duplicate(): void;
  nudge(dx: number, dy: number, grip: Grip | null): void;
  letGo(): void;
  all(): void;
}

/** What is done to places on a worksheet by keys. */
export function useMakerKeys(k: MakerKeys): void {
  const move = (e: KeyboardEvent) => {
    const [dx, dy] = wayOf(e);
    const far = e.shiftKey ? 10 : 1;
    k.nudge(dx * far, dy * far, e.altKey ? (dx ? 'e' : 's') : null);
  };
  const bindings: KeyBinding[] = [
    { keys: '$mod+z', does: k.undo },
    { keys: '$mod+Shift+z $mod+y', does: k.redo },
    { keys: '$mod+d', does: k.duplicate },
    { keys: '$mod+a', does: k.all },
    { keys: [arrows(), arrows('Shift+'), arrows('Alt+'), arrows('Alt+Shift+')].join(' '), does: move },
    { keys: 'a', does: k.takeAll },
    { keys: 'n', does: k.newByKey },
    { keys: 'Delete Backspace', does: k.remove },
    { keys: 'Escape', does: k.letGo },
  ];
  useKeys(bindings);
}
