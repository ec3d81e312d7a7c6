import {
  type AboveLine,
  type Box,
  boxToScreen,
  coverOf,
  type MarginMark,
  type Mark,
  type PageView,
  toScreen,
} from '@jotmark/core';
import { FocusSignGlyph } from '../look/glyphs.tsx';

/** Signs of notes at their spots, and the frame round what is picked: the parts of the page that are real elements. */
export function PageOverlay({
  notes,
  above = NOWHERE,
  picked,
  words,
  found = NONE,
  view,
}: {
  notes: readonly MarginMark[];
  /** Words of suggestions that stand above their line, as one corrects on paper. */
  above?: ReadonlyMap<string, AboveLine>;
  picked: readonly Mark[];
  words: readonly Box[];
  /** Other places of words that are looked for. */
  found?: readonly Box[];
  view: PageView;
}) {
  return (
    <div className="pointer-events-none absolute inset-0" aria-hidden="true">
      {notes.map((note, i) => {
        if (note.place.on !== 'spot') return null;
        const [l, t, r, b] = boxToScreen(view, coverOf(note));
        const size = Math.max(14, r - l);
        return (
          <span
            key={`${note.id} ${i}`}
            className="absolute grid place-items-center opacity-60 mix-blend-multiply"
            style={{ left: (l + r - size) / 2, top: (t + b - size) / 2, width: size, height: size }}
          >
            <FocusSignGlyph colour={note.colour} sign={note.sign} size={size - 1} />
          </span>
        );
      })}
      {notes.map((note) => {
        const room = above.get(note.id);
        if (!room || note.kind === 'note' || note.kind === 'cut') return null;
        const [left, baseline] = toScreen(view, [room.x, room.baseline]);
        const size = room.size * view.zoom;
        return (
          <span
            key={`above ${note.id}`}
            className="absolute font-hand leading-none whitespace-nowrap"
            style={{
              left,
              top: baseline - size * 0.82,
              fontSize: size,
              color: `var(--color-${note.colour})`,
            }}
          >
            {note.words.trim()}
          </span>
        );
      })}
      {picked.map((mark, i) => (
        <span
          key={`${mark.id} ${i}`}
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
const NOWHERE: ReadonlyMap<string, AboveLine> = new Map();

const frameStyle = ([l, t, r, b]: Box, out = 4) => ({
  left: l - out,
  top: t - out,
  width: r - l + 2 * out,
  height: b - t + 2 * out,
});
