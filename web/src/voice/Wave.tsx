import { clockOf, PEAKS } from '@jotmark/core';

interface Props {
  readonly peaks: readonly number[];
  readonly ms: number;
  readonly at: number;
  readonly label: string;
  onSeek(ms: number): void;
}

/** So many bars are drawn of the peaks that are kept. */
const BARS = 32;

/** A recording as its wave, darker as far as it was heard. It is a slider: arrows go five seconds. */
export function Wave({ peaks, ms, at, label, onSeek }: Props) {
  const share = Math.max(0, Math.min(1, at / ms));
  const bars = Array.from({ length: BARS }, (_, k) => {
    const part = peaks.slice(Math.floor((k * PEAKS) / BARS), Math.floor(((k + 1) * PEAKS) / BARS));
    return Math.max(8, ...part);
  });
  return (
    <span className="relative h-full min-w-12 flex-1">
      <svg
        viewBox={`0 0 ${BARS * 3} 100`}
        preserveAspectRatio="none"
        className="absolute inset-x-0 inset-y-1.5 h-[calc(100%-0.75rem)] w-full"
        aria-hidden="true"
      >
        {bars.map((peak, k) => (
          <rect
            key={k}
            x={k * 3 + 0.6}
            y={50 - peak / 2}
            width={1.8}
            height={peak}
            rx={0.9}
            fill={(k + 0.5) / BARS <= share ? 'var(--color-action)' : 'var(--color-line-strong)'}
          />
        ))}
      </svg>
      <input
        type="range"
        aria-label={label}
        aria-valuetext={`${clockOf(at)} of ${clockOf(ms)}`}
        className="absolute inset-0 m-0 size-full cursor-pointer opacity-0 [&:focus-visible+span]:outline-2"
        min={0}
        max={ms}
        step={100}
        value={Math.min(ms, Math.round(at))}
        onChange={(e) => onSeek(Number(e.target.value))}
        onKeyDown={(e) => {
          const by = { ArrowLeft: -5000, ArrowDown: -5000, ArrowRight: 5000, ArrowUp: 5000 }[e.key];
          e.stopPropagation();
          if (by === undefined) return;
          e.preventDefault();
          onSeek(at + by);
        }}
      />
      <span className="pointer-events-none absolute inset-0 rounded outline-action" />
    </span>
  );
}
