import { INK_HEX, type Pen, STARTER_TRAY } from '@jotmark/core';
import { FocusSignGlyph } from '../look/glyphs.tsx';

interface Props {
  readonly pens?: readonly Pen[];
  readonly taken: number;
  onTake(index: number): void;
}

/** The pens in a row near the writing hand, each showing the mark it makes. Its number takes it. */
export function PenTray({ pens = STARTER_TRAY, taken, onTake }: Props) {
  return (
    <div
      role="toolbar"
      aria-label="Pen tray"
      className="flex rounded-xl border border-line bg-tray p-1.5 shadow-lg"
      data-own-pointer
    >
      {pens.map((pen, i) => (
        <button
          key={pen.name}
          type="button"
          aria-pressed={i === taken}
          aria-keyshortcuts={String(i + 1)}
          className={`flex min-w-[60px] flex-col items-center gap-1 rounded-lg border-2 px-2 pt-1.5 pb-1 ${i === taken ? 'border-action bg-raised' : 'border-transparent hover:bg-raised'}`}
          onClick={() => onTake(i)}
        >
          <span className="grid h-6 place-items-center">
            <MarkItMakes pen={pen} />
          </span>
          <span className="flex items-center gap-1 text-[13px] leading-tight whitespace-nowrap">
            <span className="key" aria-hidden="true">
              {i + 1}
            </span>
            {pen.name}
          </span>
        </button>
      ))}
    </div>
  );
}

function MarkItMakes({ pen }: { pen: Pen }) {
  switch (pen.tool) {
    case 'ink':
      return (
        <svg width="46" height="16" viewBox="0 0 46 16" aria-hidden="true">
          <path
            d="M2 10c6-9 9-7 12-2s7 4 10-1 6-2 9 0 7 2 11-2"
            fill="none"
            stroke={INK_HEX[pen.colour]}
            strokeWidth={pen.width * 1.3}
            strokeLinecap="round"
          />
        </svg>
      );
    case 'highlight':
      return (
        <span className="relative px-1 text-[13px]">
          <span className="absolute inset-0 opacity-45" style={{ background: INK_HEX[pen.colour] }} />
          words
        </span>
      );
    case 'note':
      return (
        <span
          className="flex items-center gap-1 rounded-r border-l-[3px] bg-raised px-1.5 py-0.5 shadow-sm"
          style={{ borderColor: INK_HEX[pen.colour] }}
        >
          <svg width="18" height="9" viewBox="0 0 18 9" aria-hidden="true">
            <path d="M0 1.5h18M0 5h13" stroke="var(--color-soft)" strokeWidth="1.4" />
          </svg>
          <FocusSignGlyph colour={pen.colour} size={9} />
        </span>
      );
    case 'eraser':
      return (
        <svg width="46" height="18" viewBox="0 0 46 18" aria-hidden="true">
          <path
            d="M3 11c4-7 7-5 9-1"
            fill="none"
            stroke={INK_HEX.garnet}
            strokeWidth="2"
            strokeLinecap="round"
          />
          <path
            d="M33 8c3-4 6-1 10-4"
            fill="none"
            stroke={INK_HEX.garnet}
            strokeWidth="2"
            strokeLinecap="round"
          />
          <rect
            x="14"
            y="2"
            width="17"
            height="13"
            rx="3"
            fill="var(--color-paper)"
            stroke="var(--color-line-strong)"
          />
        </svg>
      );
    case 'hand':
      return (
        <svg width="30" height="18" viewBox="0 0 30 18" aria-hidden="true">
          <rect
            x="4"
            y="3"
            width="22"
            height="12"
            rx="2"
            fill="none"
            stroke="var(--color-action)"
            strokeWidth="1.4"
            strokeDasharray="3 2"
          />
          <path
            d="M9 11c3-5 5-4 6-1s4 1 6-2"
            fill="none"
            stroke={INK_HEX.garnet}
            strokeWidth="1.8"
            strokeLinecap="round"
          />
        </svg>
      );
  }
}
