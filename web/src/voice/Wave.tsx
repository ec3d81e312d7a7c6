import { clockOf, PEAKS } from '@jotmark/core';
import { memo, type Ref, useImperativeHandle, useRef } from 'react';

interface Props {
  readonly peaks: readonly number[];
  readonly ms: number;
  /** Where it is when it is shown first. */
  readonly begin: number;
  readonly label: string;
  /** Moves it while it plays: nothing is rendered for that. */
  readonly mover: Ref<WaveMover>;
  onSeek(ms: number): void;
}

export interface WaveMover {
  moveTo(ms: number): void;
}

/** So many bars are drawn of the peaks that are kept. */
const BARS = 32;
const WAYS: Readonly<Record<string, number>> = {
  ArrowLeft: -5000,
  ArrowDown: -5000,
  ArrowRight: 5000,
  ArrowUp: 5000,
};

/** A recording as its wave, darker as far as it was heard. It is a slider: arrows go five seconds. */
export const Wave = memo(function Wave({ peaks, ms, begin, label, mover, onSeek }: Props) {
  const dark = useRef<HTMLSpanElement>(null);
  const slider = useRef<HTMLInputElement>(null);
  const first = useRef(begin).current;
  const moveTo = (at: number) => {
    const share = Math.max(0, Math.min(1, at / ms));
    dark.current?.style.setProperty('clip-path', clip(share));
    const input = slider.current;
    if (!input) return;
    input.value = String(Math.min(ms, Math.round(at)));
    input.setAttribute('aria-valuetext', `${clockOf(at)} of ${clockOf(ms)}`);
  };
  useImperativeHandle(mover, () => ({ moveTo }));
  return (
    <span className="relative h-full min-w-12 flex-1">
      <Bars peaks={peaks} colour="var(--color-line-strong)" />
      <span ref={dark} className="absolute inset-0" style={{ clipPath: clip(first / ms) }}>
        <Bars peaks={peaks} colour="var(--color-action)" />
      </span>
      <input
        ref={slider}
        type="range"
        aria-label={label}
        aria-valuetext={`${clockOf(first)} of ${clockOf(ms)}`}
        className="absolute inset-0 m-0 size-full cursor-pointer opacity-0 [&:focus-visible+span]:outline-2"
        min={0}
        max={ms}
        step={100}
        defaultValue={Math.min(ms, Math.round(first))}
        onChange={(e) => onSeek(Number(e.target.value))}
        onKeyDown={(e) => {
          const by = WAYS[e.key];
          e.stopPropagation();
          if (by === undefined) return;
          e.preventDefault();
          onSeek(Number(e.currentTarget.value) + by);
        }}
      />
      <span className="pointer-events-none absolute inset-0 rounded outline-action" />
    </span>
  );
});

const clip = (share: number) => `inset(0 ${(100 - 100 * Math.max(0, Math.min(1, share))).toFixed(1)}% 0 0)`;

function Bars({ peaks, colour }: { peaks: readonly number[]; colour: string }) {
  const bars = Array.from({ length: BARS }, (_, k) => {
    const part = peaks.slice(Math.floor((k * PEAKS) / BARS), Math.floor(((k + 1) * PEAKS) / BARS));
    return Math.max(8, ...part);
  });
  return (
    <svg
      viewBox={`0 0 ${BARS * 3} 100`}
      preserveAspectRatio="none"
      className="absolute inset-x-0 inset-y-1.5 h-[calc(100%-0.75rem)] w-full"
      aria-hidden="true"
    >
      {bars.map((peak, k) => (
        <rect key={k} x={k * 3 + 0.6} y={50 - peak / 2} width={1.8} height={peak} rx={0.9} fill={colour} />
      ))}
    </svg>
  );
}
