import { INK_HEX, type InkColour, type Pen, STAMP_LINE, type StampLook, stampParts } from '@jotmark/core';
import { addressOf } from '../api/call.ts';
import { FocusSignGlyph } from './glyphs.tsx';

/** Each pen shows the mark it makes, not a tool's icon. */
export function MarkItMakes({ pen }: { pen: Pen }) {
  switch (pen.tool) {
    case 'ink':
      return (
        <Drawing>
          <path d="M2 10c6-9 9-7 12-2s7 4 10-1 6-2 9 0 7 2 11-2" {...stroke(pen.colour, pen.width * 1.3)} />
        </Drawing>
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
    case 'line':
      return (
        <Drawing>
          <path d="M6 13 40 4" {...stroke(pen.colour, pen.width * 1.2)} />
        </Drawing>
      );
    case 'arrow':
      return (
        <Drawing>
          <path d="M6 12 38 6M30 3.4 38 6 32.6 11.6" {...stroke(pen.colour, pen.width * 1.2)} />
        </Drawing>
      );
    case 'box':
      return (
        <Drawing>
          <path d="M9 2.5h28v11H9z" {...stroke(pen.colour, pen.width * 1.2)} />
        </Drawing>
      );
    case 'ring':
      return (
        <Drawing>
          <ellipse cx="23" cy="8" rx="14" ry="5.8" {...stroke(pen.colour, pen.width * 1.2)} />
        </Drawing>
      );
    case 'text':
      return (
        <span className="font-hand text-[17px] leading-none" style={{ color: INK_HEX[pen.colour] }}>
          write
        </span>
      );
    case 'stamp':
      return (
        <span className="flex items-center gap-0.5" style={{ color: INK_HEX[pen.colour] }}>
          <StampPicture look={pen.look} colour={pen.colour} size={19} />
        </span>
      );
    case 'cut':
      return (
        <span
          className="text-[13px] line-through decoration-2"
          style={{ textDecorationColor: INK_HEX[pen.colour] }}
        >
          words
        </span>
      );
    case 'swap':
      return (
        <span className="relative text-[13px]">
          <span className="line-through decoration-2" style={{ textDecorationColor: INK_HEX[pen.colour] }}>
            word
          </span>
          <Wedge colour={pen.colour} />
        </span>
      );
    case 'add':
      return (
        <span className="text-[13px]">
          a <Wedge colour={pen.colour} /> b
        </span>
      );
    case 'eraser':
      return pen.part ? <PartGone /> : <StrokeGone />;
    case 'hand':
      return (
        <svg width="30" height="18" viewBox="0 0 30 18" aria-hidden="true">
          <rect x="4" y="3" width="22" height="12" rx="2" {...dashed} />
          <path d="M9 11c3-5 5-4 6-1s4 1 6-2" {...stroke('garnet', 1.8)} />
        </svg>
      );
    case 'lasso':
      return (
        <svg width="34" height="18" viewBox="0 0 34 18" aria-hidden="true">
          <path d="M4 10c0-6 9-8 17-7s11 5 9 9-10 5-17 4-9-3-9-6z" {...dashed} />
          <path d="M10 10c2-4 3-3 4-1M19 10c2-4 3-3 4-1" {...stroke('garnet', 1.8)} />
        </svg>
      );
  }
}

/** A stamp as it looks on the page. */
export function StampPicture({ look, colour, size }: { look: StampLook; colour: InkColour; size: number }) {
  if (look.of === 'picture')
    return (
      <img
        src={addressOf('picture', { picture: look.picture })}
        alt=""
        width={size}
        height={size}
        className="object-contain"
      />
    );
  return (
    <svg width={size} height={size} viewBox="-0.08 -0.08 1.16 1.16" aria-hidden="true">
      {stampParts(look).map((part, i) => {
        const d = `M${part.points.map((p) => p.join(' ')).join('L')}`;
        return part.filled ? (
          <path key={i} d={d} fill={INK_HEX[colour]} />
        ) : (
          <path key={i} d={d} {...stroke(colour, STAMP_LINE)} />
        );
      })}
    </svg>
  );
}

const stroke = (colour: InkColour, width: number) =>
  ({
    fill: 'none',
    stroke: INK_HEX[colour],
    strokeWidth: width,
    strokeLinecap: 'round',
    strokeLinejoin: 'round',
  }) as const;
const dashed = {
  fill: 'none',
  stroke: 'var(--color-action)',
  strokeWidth: 1.4,
  strokeDasharray: '3 2',
} as const;

function Drawing({ children }: { children: React.ReactNode }) {
  return (
    <svg width="46" height="16" viewBox="0 0 46 16" aria-hidden="true">
      {children}
    </svg>
  );
}

function Wedge({ colour }: { colour: InkColour }) {
  return (
    <svg width="10" height="8" viewBox="0 0 10 8" aria-hidden="true" className="inline-block align-bottom">
      <path d="M1 7 5 1l4 6" {...stroke(colour, 1.6)} />
    </svg>
  );
}

function StrokeGone() {
  return (
    <svg width="46" height="18" viewBox="0 0 46 18" aria-hidden="true">
      <path d="M3 11c4-7 7-5 9-1" {...stroke('garnet', 2)} />
      <path d="M33 8c3-4 6-1 10-4" {...stroke('garnet', 2)} />
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
}

function PartGone() {
  return (
    <svg width="34" height="18" viewBox="0 0 34 18" aria-hidden="true">
      <path d="M2 12c4-7 7-5 9-2" {...stroke('garnet', 2)} />
      <path d="M22 9c3-3 6-1 10-4" {...stroke('garnet', 2)} />
      <circle cx="17" cy="9" r="4.5" fill="var(--color-paper)" stroke="var(--color-line-strong)" />
    </svg>
  );
}
