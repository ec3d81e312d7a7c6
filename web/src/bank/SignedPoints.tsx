import { formatSigned, parseSigned } from '@jotmark/core';
import { useState } from 'react';

/** Points that are earned or taken off, as they are typed: 1, +½, −2. Empty is none; what cannot be points changes nothing. */
export function SignedPoints({
  value,
  className,
  label,
  onChange,
}: {
  value: number | null;
  className: string;
  /** Where no label stands around it. */
  label?: string;
  onChange(value: number | null): void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = value === null ? '' : formatSigned(value);
  return (
    <input
      className={className}
      inputMode="decimal"
      aria-label={label}
      placeholder="none"
      maxLength={10}
      aria-invalid={typed !== null && typed.trim() !== '' && parseSigned(typed) === null}
      value={typed ?? shown}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={() => {
        if (typed === null) return;
        const points = typed.trim() === '' ? null : parseSigned(typed);
        if (points !== null || typed.trim() === '') onChange(points);
        setTyped(null);
      }}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter' || e.key === 'Escape') {
          e.preventDefault();
          e.currentTarget.blur();
        }
      }}
    />
  );
}
