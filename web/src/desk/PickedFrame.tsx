import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import {
  type Box,
  boxAround,
  boxToScreen,
  coverOfAll,
  isResizable,
  type Mark,
  type PageView,
  type Pen,
  resizeMark,
  toPage,
} from '@jotmark/core';
import { Copy, CopyPlus, PenLine, Trash2 } from 'lucide-react';
import { useRef } from 'react';
import { IconButton } from '../frame/IconButton.tsx';
import { MarkItMakes } from '../look/pen-mark.tsx';
import type { PenAtKey } from './PenTray.tsx';

interface Props {
  readonly marks: readonly Mark[];
  readonly view: PageView;
  readonly pens: readonly PenAtKey[];
  onDrag(marks: readonly Mark[] | null): void;
  onResize(before: readonly Mark[], after: readonly Mark[]): void;
  onPen(pen: Pen): void;
  onCopy(): void;
  onDouble(): void;
  onRemove(): void;
}

/** Smaller than this, in CSS pixels, nothing is pulled. */
const LEAST = 6;
const BAR = 42;

/** Round what is picked: a corner to pull it larger or smaller, and what else can be done with it. */
export function PickedFrame(p: Props) {
  const pulled = useRef<{ from: Box; after: readonly Mark[] } | null>(null);
  const cover = coverOfAll(p.marks);
  if (!cover) return null;
  const [l, t, r, b] = boxToScreen(p.view, cover);
  const sizable = p.marks.filter(isResizable);
  const pull = (e: React.PointerEvent<HTMLButtonElement>) => {
    const now = pulled.current;
    if (!now) return;
    const page = e.currentTarget.closest('[data-page]')!.getBoundingClientRect();
    const [fl, ft, fr, fb] = boxToScreen(p.view, now.from);
    let x = Math.max(fl + LEAST, e.clientX - page.left);
    let y = Math.max(ft + LEAST, e.clientY - page.top);
    if (e.shiftKey) {
      const by = Math.max((x - fl) / (fr - fl), (y - ft) / (fb - ft));
      x = fl + by * (fr - fl);
      y = ft + by * (fb - ft);
    }
    const to = boxAround(
      [toPage(p.view, [fl, ft]), toPage(p.view, [x, y])].map(([px, py]): Box => [px, py, px, py]),
    )!;
    now.after = sizable.map((m) => resizeMark(m, now.from, to));
    p.onDrag(now.after);
  };
  const before = useRef<readonly Mark[]>([]);
  return (
    <div data-own-pointer>
      <div
        role="toolbar"
        aria-label="Picked marks"
        className="absolute z-20 flex items-center rounded-lg border border-line bg-raised px-1 text-soft shadow-md"
        style={{ left: Math.max(0, l - 4), top: t > BAR + 6 ? t - BAR - 6 : b + 8 }}
      >
        <Menu>
          <MenuButton as={PenChoice} />
          <MenuItems
            anchor={{ to: 'bottom start', gap: 6 }}
            className="z-40 w-52 rounded-lg border border-line bg-raised p-1 shadow-xl outline-none"
          >
            {p.pens.map(({ key, pen }) => (
              <MenuItem key={key}>
                <button
                  type="button"
                  className="flex w-full items-center gap-3 rounded px-2 py-1 text-left text-sm data-focus:bg-action-wash"
                  onClick={() => p.onPen(pen)}
                >
                  <span className="key">⇧{key}</span>
                  <span className="grid h-6 w-12 place-items-center">
                    <MarkItMakes pen={pen} />
                  </span>
                  {pen.name}
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
        <IconButton label="Copy" icon={Copy} onClick={p.onCopy} />
        <IconButton label="Double" icon={CopyPlus} onClick={p.onDouble} />
        <IconButton label="Take away" icon={Trash2} onClick={p.onRemove} />
      </div>
      {sizable.length > 0 && (
        <button
          type="button"
          aria-label="Pull larger or smaller"
          tabIndex={-1}
          className="absolute z-20 size-4 cursor-nwse-resize touch-none rounded-full border-2 border-action bg-paper"
          style={{ left: r - 2, top: b - 2 }}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            const from = coverOfAll(sizable);
            before.current = sizable;
            pulled.current = from && { from, after: [] };
          }}
          onPointerMove={pull}
          onPointerUp={() => {
            const { after } = pulled.current ?? { after: [] };
            pulled.current = null;
            if (after.length) p.onResize(before.current, after);
            p.onDrag(null);
          }}
          onPointerCancel={() => {
            pulled.current = null;
            p.onDrag(null);
          }}
        />
      )}
    </div>
  );
}

function PenChoice(props: React.ComponentProps<'button'>) {
  return (
    <button
      {...props}
      type="button"
      aria-label="Another pen for them"
      title="Another pen for them"
      className="grid size-10 place-items-center rounded hover:text-action"
    >
      <PenLine size={18} aria-hidden="true" />
    </button>
  );
}
