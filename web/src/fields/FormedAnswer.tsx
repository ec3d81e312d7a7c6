import { type Box, type Fitted, piecesIn, type SetWords } from '@jotmark/core';
import { measureText } from '../paper/measure.ts';

/** A typed answer with its formulas drawn, over the field that holds what was typed: line by line where the PDF of the hand-in has it. */
export function FormedAnswer(p: {
  readonly box: Box;
  readonly zoom: number;
  readonly fitted: Fitted;
  readonly set: SetWords;
}) {
  const { lines, size } = p.fitted;
  const rows = piecesIn(
    lines.map((l) => l.text),
    p.set,
    measureText,
    size,
  );
  const [left, top, right, bottom] = p.box;
  return (
    <svg
      aria-hidden="true"
      className="pointer-events-none absolute inset-0 overflow-visible fill-answer"
      viewBox={`${left} ${top} ${right - left} ${bottom - top}`}
      width={(right - left) * p.zoom}
      height={(bottom - top) * p.zoom}
    >
      {lines.map((line, i) => (
        <g key={line.y} transform={`translate(${line.x} ${line.y})`}>
          {rows[i]!.map((piece) =>
            piece.as === 'text' ? (
              <text key={piece.x} x={piece.x} fontSize={size} style={{ whiteSpace: 'pre' }}>
                {piece.text}
              </text>
            ) : (
              <g
                key={piece.x}
                transform={`translate(${piece.x} 0) scale(${piece.size / 1000} ${-piece.size / 1000})`}
              >
                {piece.drawn.parts.map(({ d, at }, n) => (
                  <path key={n} d={d} transform={`matrix(${at.join(' ')})`} />
                ))}
              </g>
            ),
          )}
        </g>
      ))}
    </svg>
  );
}
