let down = false;
const END = ['pointerup', 'pointercancel'] as const;

if (typeof window !== 'undefined') {
  window.addEventListener(
    'pointerdown',
    () => {
      down = true;
    },
    true,
  );
  for (const end of END)
    window.addEventListener(
      end,
      () => {
        down = false;
      },
      true,
    );
}

/**
 * Does it now, or once the press that is under way is over and has been taken for what it is: a press on a button leaves the field before it, and what went
 * away with the field would pull the button from under the finger.
 */
export function afterPress(then: () => void): void {
  if (!down) return then();
  const over = () => {
    for (const end of END) window.removeEventListener(end, over, true);
    setTimeout(then, 0);
  };
  for (const end of END) window.addEventListener(end, over, true);
}
