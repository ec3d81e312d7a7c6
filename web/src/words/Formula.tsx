import { drawFormula } from '@jotmark/core/formula';
import { tip } from '../frame/tip.ts';

/** A formula drawn as outlines; what is none stays as it was typed, and says so. For who hears the page it is read as it was typed. */
export function Formula({ tex }: { tex: string }) {
  const formula = drawFormula(tex);
  if (!formula.ok)
    return (
      <code
        className="rounded bg-margin px-0.5"
        {...tip('This is no formula that can be drawn; it stays as it was typed.')}
      >
        {tex}
      </code>
    );
  const { width, above, below, parts } = formula;
  return (
    <svg
      role="img"
      aria-label={tex}
      className="inline-block fill-current"
      style={{ width: `${width}em`, height: `${above + below}em`, verticalAlign: `${-below}em` }}
      viewBox={`0 ${-above * 1000} ${width * 1000} ${(above + below) * 1000}`}
    >
      <g transform="scale(1 -1)">
        {parts.map(({ d, at }, i) => (
          <path key={i} d={d} transform={`matrix(${at.join(' ')})`} />
        ))}
      </g>
    </svg>
  );
}
