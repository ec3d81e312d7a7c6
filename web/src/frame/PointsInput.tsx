import { formatPoints, parsePoints } from '@jotmark/core';
import { type InputHTMLAttributes, useEffect, useRef, useState } from 'react';

interface Props extends Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange'> {
  /** Hundredths; null: none. */
  readonly value: number | null;
  onChange(value: number | null): void;
  /** Hears whether what stands there can be points. */
  onWrong?(wrong: boolean): void;
}

/** Points as they are typed: 10, 12.5, 8½. Empty is none; what cannot be points changes nothing, the last good number stays. */
export function PointsInput({ value, onChange, onWrong, ...rest }: Props) {
  const [typed, setTyped] = useState(value === null ? '' : formatPoints(value));
  const known = useRef(value);
  useEffect(() => {
    // Changed from outside, by a sum or by undo.
    if (known.current !== value) setTyped(value === null ? '' : formatPoints(value));
    known.current = value;
  }, [value]);
  const read = parsePoints(typed);
  const wrong = !read.ok && read.reason !== 'empty';
  return (
    <input
      {...rest}
      inputMode="decimal"
      aria-invalid={wrong}
      value={typed}
      onChange={(e) => {
        setTyped(e.target.value);
        const next = parsePoints(e.target.value);
        onWrong?.(!next.ok && next.reason !== 'empty');
        const points = next.ok ? next.value : next.reason === 'empty' ? null : undefined;
        if (points === undefined) return;
        known.current = points;
        onChange(points);
      }}
    />
  );
}
