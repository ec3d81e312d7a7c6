import type { KeyboardEvent } from 'react';

/** The list with one of its items somewhere else; null where that is no change. */
export function moved<T>(list: readonly T[], from: number, to: number): T[] | null {
  if (to < 0 || to >= list.length || from === to) return null;
  const out = [...list];
  out.splice(to, 0, ...out.splice(from, 1));
  return out;
}

/** Alt and an arrow put a pen one further. The buttons stay, their pens move: the hand goes along with its pen. */
export const onMoveKeys = (move: (by: number) => void) => (e: KeyboardEvent<HTMLButtonElement>) => {
  const by = e.key === 'ArrowLeft' ? -1 : e.key === 'ArrowRight' ? 1 : 0;
  if (!e.altKey || by === 0) return;
  e.preventDefault();
  move(by);
  const buttons = [...(e.currentTarget.parentElement?.querySelectorAll('button') ?? [])];
  buttons[buttons.indexOf(e.currentTarget) + by]?.focus();
};
