import { INK_HEX, inkBox, inkOutline, type PhraseInk } from '@jotmark/core';
import { useMemo } from 'react';

/** A remark that was kept as it was written, small: at most so many CSS pixels high. */
export function HandInk({ ink, most = 40 }: { ink: PhraseInk; most?: number }) {
  const [left, top, right, bottom] = useMemo(() => inkBox(ink), [ink]);
  const [w, h] = [right - left, bottom - top];
  const by = Math.min(1, most / h, 220 / w);
  return (
    <svg
      aria-hidden="true"
      viewBox={`${left} ${top} ${w} ${h}`}
      width={w * by}
      height={h * by}
      className="max-w-full"
    >
      {ink.map((stroke, i) => (
        <polygon
          key={i}
          fill={INK_HEX[stroke.colour]}
          points={inkOutline(stroke.points, stroke.width)
            .map((p) => p.join(','))
            .join(' ')}
        />
      ))}
    </svg>
  );
}
