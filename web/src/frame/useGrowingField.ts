import { type KeyboardEvent, type RefObject, useLayoutEffect, useRef } from 'react';

/**
 * A field for words that grows with them: it takes the cursor when it comes, at the end of what is there, and is left with Escape or
 * Ctrl and Enter. No key of it is heard by the desk.
 */
export function useGrowingField(): {
  readonly ref: RefObject<HTMLTextAreaElement | null>;
  onKeyDown(e: KeyboardEvent<HTMLTextAreaElement>): void;
} {
  const ref = useRef<HTMLTextAreaElement>(null);
  useLayoutEffect(() => {
    const el = ref.current!;
    el.style.height = '0';
    el.style.height = `${el.scrollHeight}px`;
  });
  useLayoutEffect(() => {
    const el = ref.current!;
    el.focus({ preventScroll: true });
    el.setSelectionRange(el.value.length, el.value.length);
    el.scrollIntoView({ block: 'nearest' });
  }, []);
  return {
    ref,
    onKeyDown(e) {
      e.stopPropagation();
      if (e.key === 'Escape' || (e.key === 'Enter' && (e.ctrlKey || e.metaKey))) {
        e.preventDefault();
        e.currentTarget.blur();
      }
    },
  };
}
