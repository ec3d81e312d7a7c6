import { HAND_LEADING, INK_HEX, type PageView, type TextMark, toScreen } from '@jotmark/core';
import { useLayoutEffect, useRef } from 'react';
import { HAND } from '../work/measure.ts';

/** Words on the page while they are written: they grow and wrap where they stand, in the teacher's hand. */
export function PageWords({
  mark,
  view,
  onWords,
  onLeave,
}: {
  mark: TextMark;
  view: PageView;
  onWords(words: string): void;
  onLeave(): void;
}) {
  const area = useRef<HTMLTextAreaElement>(null);
  const [left, top] = toScreen(view, [mark.x, mark.y]);
  useLayoutEffect(() => {
    const el = area.current!;
    el.style.height = '0';
    el.style.height = `${el.scrollHeight}px`;
  });
  useLayoutEffect(() => {
    const el = area.current!;
    el.focus({ preventScroll: true });
    el.setSelectionRange(el.value.length, el.value.length);
  }, []);
  return (
    <textarea
      ref={area}
      rows={1}
      data-own-pointer
      aria-label="Words on the page"
      maxLength={2000}
      spellCheck
      className="absolute resize-none overflow-hidden bg-paper/70 p-0 outline-2 outline-action outline-dashed select-text"
      style={{
        left,
        top,
        width: mark.w * view.zoom,
        color: INK_HEX[mark.colour],
        fontFamily: HAND,
        fontSize: mark.size * view.zoom,
        lineHeight: HAND_LEADING,
        transformOrigin: '0 0',
        transform: `rotate(${view.turn - mark.turn}deg)`,
      }}
      value={mark.words}
      onChange={(e) => onWords(e.target.value)}
      onBlur={onLeave}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Escape' || (e.key === 'Enter' && (e.ctrlKey || e.metaKey))) {
          e.preventDefault();
          e.currentTarget.blur();
        }
      }}
    />
  );
}
