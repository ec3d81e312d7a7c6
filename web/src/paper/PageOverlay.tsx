import { type Box, boxToScreen, coverOf, type MarginMark, type Mark, type PageView } from '@jotmark/core';
import { FocusSignGlyph } from '../look/glyphs.tsx';

/** Signs of notes at their spots, and the frame round what is picked: the parts of the page that are real elements. */
export function PageOverlay({
  notes,
  picked,
  words,
  found = NONE,
  view,
}: {
  notes: readonly MarginMark[];
  picked: readonly Mark[];
  words: readonly Box[];
  /** Other places of words that are looked for. */
  found?: readonly Box[];
  view: PageView;
}) {
  return (
    <div className="pointer-events-none absolute inset-0" aria-hidden="true">
      {notes.map((note) => {
        if (note.place.on !== 'spot') return null;
        const [l, t, r, b] = boxToScreen(view, coverOf(note));
        const size = Math.max(14, r - l);
        return (
          <span
            key={note.id}
            className="absolute grid place-items-center rounded-full bg-paper/80"
            style={{ left: (l + r - size) / 2, top: (t + b - size) / 2, width: size, height: size }}
          >
            <FocusSignGlyph colour={note.colour} size={size - 3} />
          </span>
        );
      })}
      {picked.map((mark) => (
        <span
          key={mark.id}
          className="absolute rounded border-2 border-dashed border-action"
          style={frameStyle(boxToScreen(view, coverOf(mark)))}
        />
      ))}
      {found.map((box) => (
        <span
          key={`found ${box.join()}`}
          className="absolute rounded-sm bg-action/20"
          style={frameStyle(boxToScreen(view, box), 0)}
        />
      ))}
      {words.map((box) => (
        <span
          key={box.join()}
          className="absolute rounded-sm bg-action/15 outline-2 outline-action"
          style={frameStyle(boxToScreen(view, box), 0)}
        />
      ))}
    </div>
  );
}

const NONE: readonly Box[] = [];

const frameStyle = ([l, t, r, b]: Box, out = 4) => ({
  left: l - out,
  top: t - out,
  width: r - l + 2 * out,
  height: b - t + 2 * out,
});
