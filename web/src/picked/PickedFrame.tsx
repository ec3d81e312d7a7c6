import {
  type Box,
  boxAround,
  boxToScreen,
  coverOfAll,
  isResizable,
  type Mark,
  type PageView,
  type Pen,
  type Point,
  resizeMark,
  toPage,
  withWidth,
} from '@jotmark/core';
import { BookmarkPlus, Copy, CopyPlus, PenLine, Trash2 } from 'lucide-react';
import { useRef } from 'react';
import { IconButton } from '../frame/IconButton.tsx';
import { Menu } from '../frame/menu.tsx';
import { MarkItMakes } from '../look/pen-mark.tsx';
import { formulasFor } from '../paper/looks.ts';
import { measureHand } from '../paper/measure.ts';
import type { PenAtKey } from '../pens/PenTray.tsx';

interface Props {
  readonly marks: readonly Mark[];
  readonly view: PageView;
  readonly pens: readonly PenAtKey[];
  onDrag(marks: readonly Mark[] | null): void;
  onResize(before: readonly Mark[], after: readonly Mark[]): void;
  onPen(pen: Pen): void;
  onCopy(): void;
  onDouble(): void;
  /** Keeps what was written by hand; null where that is not what is picked. */
  readonly onKeep: (() => void) | null;
  onRemove(): void;
}

/** Smaller than this, in CSS pixels, nothing is pulled. */
const LEAST = 6;
const BAR = 42;

/** Round what is picked: a corner to pull it larger or smaller, and what else can be done with it. */
export function PickedFrame(p: Props) {
  const cover = coverOfAll(p.marks);
  if (!cover) return null;
  const [l, t, r, b] = boxToScreen(p.view, cover);
  const sizable = p.marks.filter(isResizable);
  const only = p.marks.length === 1 ? p.marks[0]! : null;
  // Words that stand upright on the screen can be made wider by themselves.
  const words = only?.kind === 'text' && only.turn === p.view.turn ? only : null;
  return (
    <div data-own-pointer>
      <div
        role="toolbar"
        aria-label="Selected marks"
        className="absolute z-20 flex items-center rounded-lg border border-line bg-raised px-1 text-soft shadow-md"
        style={{ left: Math.max(0, l - 4), top: t > BAR + 6 ? t - BAR - 6 : b + 8 }}
      >
        <Menu
          label="Change pen"
          told
          className="grid size-10 place-items-center rounded hover:text-action"
          to="bottom start"
          wide="w-52"
          entries={p.pens.map(({ key, pen }) => ({
            key,
            onClick: () => p.onPen(pen),
            words: (
              <>
                <span className="key">⇧{key}</span>
                <span className="grid h-6 w-12 place-items-center">
                  <MarkItMakes pen={pen} />
                </span>
                {pen.name}
              </>
            ),
          }))}
        >
          <PenLine size={18} aria-hidden="true" />
        </Menu>
        <IconButton label="Copy" icon={Copy} onClick={p.onCopy} />
        <IconButton label="Duplicate" icon={CopyPlus} onClick={p.onDouble} />
        {p.onKeep && <IconButton label="Keep in the bank" icon={BookmarkPlus} onClick={p.onKeep} />}
        <IconButton label="Delete" icon={Trash2} onClick={p.onRemove} />
      </div>
      {sizable.length > 0 && (
        <Handle
          label="Resize"
          look="cursor-nwse-resize rounded-full"
          left={r - 2}
          top={b - 2}
          begin={() => ({ before: sizable, pull: pullOf(sizable, p.view) })}
          onDrag={p.onDrag}
          onPulled={p.onResize}
        />
      )}
      {words && (
        <Handle
          label="Change width"
          look="cursor-ew-resize rounded-sm"
          left={r - 2}
          top={(t + b) / 2 - 8}
          begin={() => ({
            before: [words],
            pull: ([x]) => [withWidth(words, (x - l) / p.view.zoom, measureHand, formulasFor(words.words))],
          })}
          onDrag={p.onDrag}
          onPulled={p.onResize}
        />
      )}
    </div>
  );
}

/** The marks as they are when the corner of the box round them is pulled to a point of the page as it is shown; `even`: in proportion. */
function pullOf(marks: readonly Mark[], view: PageView) {
  const from = coverOfAll(marks)!;
  const [l, t, r, b] = boxToScreen(view, from);
  return ([wishX, wishY]: Point, even: boolean): readonly Mark[] => {
    let x = Math.max(l + LEAST, wishX);
    let y = Math.max(t + LEAST, wishY);
    if (even) {
      const by = Math.max((x - l) / (r - l), (y - t) / (b - t));
      x = l + by * (r - l);
      y = t + by * (b - t);
    }
    const corners = [toPage(view, [l, t]), toPage(view, [x, y])].map(([px, py]): Box => [px, py, px, py]);
    const to = boxAround(corners)!;
    return marks.map((m) => resizeMark(m, from, to));
  };
}

interface Pull {
  readonly before: readonly Mark[];
  pull(to: Point, even: boolean): readonly Mark[];
}

/** A small knob at the frame: while it is pulled the marks are shown as they would be, let go they are so. */
function Handle({
  label,
  look,
  left,
  top,
  begin,
  onDrag,
  onPulled,
}: {
  label: string;
  look: string;
  left: number;
  top: number;
  begin(): Pull;
  onDrag(marks: readonly Mark[] | null): void;
  onPulled(before: readonly Mark[], after: readonly Mark[]): void;
}) {
  const pulled = useRef<(Pull & { after: readonly Mark[] }) | null>(null);
  return (
    <button
      type="button"
      aria-label={label}
      tabIndex={-1}
      className={`absolute z-20 size-4 touch-none border-2 border-action bg-paper ${look}`}
      style={{ left, top }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        pulled.current = { ...begin(), after: [] };
      }}
      onPointerMove={(e) => {
        const now = pulled.current;
        if (!now) return;
        const page = e.currentTarget.closest('[data-page]')!.getBoundingClientRect();
        now.after = now.pull([e.clientX - page.left, e.clientY - page.top], e.shiftKey);
        onDrag(now.after);
      }}
      onPointerUp={() => {
        const now = pulled.current;
        pulled.current = null;
        if (now?.after.length) onPulled(now.before, now.after);
        onDrag(null);
      }}
      onPointerCancel={() => {
        pulled.current = null;
        onDrag(null);
      }}
    />
  );
}
