import { HAND_LEADING, INK_HEX, type PageView, type TextMark, toScreen } from '@jotmark/core';
import { useGrowingField } from '../frame/useGrowingField.ts';
import { HAND } from '../paper/measure.ts';
import { formedBy, selectedIn } from '../words/form.ts';

const MOST = 2000;

/** Words on the page while they are written: they grow and wrap where they stand, in the teacher's hand, and take the same form by the same keys as words of the margin. */
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
  const field = useGrowingField();
  const [left, top] = toScreen(view, [mark.x, mark.y]);
  return (
    <textarea
      ref={field.ref}
      rows={1}
      data-own-pointer
      aria-label="Words on the page"
      maxLength={MOST}
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
        const el = e.currentTarget;
        const next = formedBy(e, () => selectedIn(el));
        if (!next) return field.onKeyDown(e);
        e.preventDefault();
        e.stopPropagation();
        onWords(next.words.slice(0, MOST));
        requestAnimationFrame(() => el.setSelectionRange(next.start, next.end));
      }}
    />
  );
}
