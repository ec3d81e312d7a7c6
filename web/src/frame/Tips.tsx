import { autoUpdate, computePosition, flip, offset, shift } from '@floating-ui/dom';
import { useEffect, useRef, useState } from 'react';

/** A pointer that rests so long wants to know, in milliseconds. */
const REST_MS = 450;

/** One tooltip for the whole app: shows what the element under the pointer, or with the focus, says in `data-tip`. Escape puts it away. */
export default function Tips() {
  const [at, setAt] = useState<{ element: Element; words: string } | null>(null);
  const bubble = useRef<HTMLDivElement>(null);
  useEffect(() => {
    let clock: ReturnType<typeof setTimeout> | undefined;
    const show = (target: EventTarget | null, wait: number) => {
      clearTimeout(clock);
      const element = target instanceof Element ? target.closest('[data-tip]') : null;
      if (!element) return setAt(null);
      clock = setTimeout(() => setAt({ element, words: element.getAttribute('data-tip')! }), wait);
    };
    const away = () => {
      clearTimeout(clock);
      setAt(null);
    };
    const over = (e: PointerEvent) => e.pointerType === 'mouse' && e.buttons === 0 && show(e.target, REST_MS);
    // By keys it is shown at once; a click needs no words for what it just did.
    const focus = (e: FocusEvent) => (e.target as Element).matches(':focus-visible') && show(e.target, 0);
    const key = (e: KeyboardEvent) => e.key === 'Escape' && away();
    // What lies under the pointer, or has the focus, as this comes is what it was loaded for.
    const there = [...document.querySelectorAll('[data-tip]:hover, [data-tip]:focus-visible')].at(-1);
    if (there) show(there, REST_MS);
    const off = new AbortController();
    const { signal } = off;
    document.addEventListener('pointerover', over, { signal });
    document.addEventListener('focusin', focus, { signal });
    document.addEventListener('focusout', away, { signal });
    document.addEventListener('pointerdown', away, { signal, capture: true });
    document.addEventListener('keydown', key, { signal });
    return () => {
      off.abort();
      clearTimeout(clock);
    };
  }, []);
  useEffect(() => {
    const box = bubble.current;
    if (!at || !box) return;
    return autoUpdate(at.element, box, () => {
      if (!at.element.isConnected) return setAt(null);
      computePosition(at.element, box, {
        placement: 'bottom',
        strategy: 'fixed',
        middleware: [offset(6), flip(), shift({ padding: 6 })],
      }).then(({ x, y }) => {
        box.style.transform = `translate(${Math.round(x)}px, ${Math.round(y)}px)`;
        box.style.visibility = 'visible';
      });
    });
  }, [at]);
  if (!at) return null;
  return (
    <div
      ref={bubble}
      role="tooltip"
      // For eyes: who hears the page hears the name of what it is about.
      aria-hidden="true"
      className="pointer-events-none invisible fixed top-0 left-0 z-[60] max-w-72 rounded bg-text px-2 py-1 text-[13px] leading-snug break-words text-paper shadow-lg"
    >
      {at.words}
    </div>
  );
}
