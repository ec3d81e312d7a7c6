import { useId } from 'react';

/** How many words a teacher wishes for, about. Empty: as many as one likes. */
export function WordsWished({
  value,
  onChange,
}: {
  value: number | null;
  onChange(words: number | null): void;
}) {
  const field = useId();
  return (
    <label htmlFor={field} className="flex items-center gap-1.5">
      about
      <input
        id={field}
        type="number"
        inputMode="numeric"
        min={1}
        max={100_000}
        placeholder="any number of"
        className="w-32 rounded border border-line bg-paper px-1.5 py-0.5 tabular"
        value={value ?? ''}
        onChange={(e) => {
          const words = Math.round(Number(e.target.value));
          onChange(e.target.value === '' ? null : Math.max(1, Math.min(100_000, words || 1)));
        }}
      />
      words
    </label>
  );
}
