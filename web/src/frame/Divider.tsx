import { useRef } from 'react';
import { tip } from './tip.ts';

interface Props {
  readonly label: string;
  /** At which edge of the part it sizes it lies. */
  readonly edge: 'left' | 'right';
  /** Width of the part, in CSS pixels or in anything that grows with them. */
  readonly value: number;
  readonly least: number;
  readonly most: number;
  /** There are several of it: the keyboard comes to the first only. */
  readonly oneOfMany?: boolean;
  onValue(to: number): void;
}

/** What an arrow key adds, as a share of the way from the least to the most. */
const STEP = 1 / 20;

/** The edge of a part of a view, within that part: pulled with the pointer, or with the arrow keys. The part is `relative`. */
export function Divider({ label, edge, value, least, most, oneOfMany = false, onValue }: Props) {
  const from = useRef<{ x: number; value: number; width: number } | null>(null);
  const to = (wish: number) => {
    const next = Math.round(Math.min(most, Math.max(least, wish)));
    if (next !== value) onValue(next);
  };
  /** Pulled to the right, the part at whose right edge it lies becomes wider. */
  const sign = edge === 'right' ? 1 : -1;
  return (
    <div
      role="separator"
      aria-orientation="vertical"
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={least}
      aria-valuemax={most}
      tabIndex={oneOfMany ? -1 : 0}
      {...tip(label)}
      className={`absolute inset-y-0 z-10 w-2.5 cursor-col-resize touch-none hover:bg-action/15 focus-visible:bg-action/30 ${edge === 'left' ? '-left-1' : '-right-1'}`}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = { x: e.clientX, value, width: e.currentTarget.parentElement!.offsetWidth };
      }}
      // Pulled by hand it does not take the keyboard: the arrows stay with what was picked.
      onMouseDown={(e) => e.preventDefault()}
      onPointerMove={(e) => {
        const f = from.current;
        if (f) to((f.value * (f.width + sign * (e.clientX - f.x))) / f.width);
      }}
      onPointerUp={() => {
        from.current = null;
      }}
      onPointerCancel={() => {
        from.current = null;
      }}
      onKeyDown={(e) => {
        const by = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
        if (!by || e.ctrlKey || e.altKey) return;
        // The arrows are the desk's elsewhere.
        e.preventDefault();
        to(value + by * sign * STEP * (most - least));
      }}
    />
  );
}
