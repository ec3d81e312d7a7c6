import { tip } from '../frame/tip.ts';
import { useRecorderStanding } from './useRecorder.ts';

/** How high the bars of the wave are that stands for talking. */
const BARS = [4, 9, 15, 7, 17, 11, 5, 13, 8, 4];

/** Talks: it shows what it makes, as pens do. */
export function VoiceButton({ onPress }: { onPress(): void }) {
  const { phase } = useRecorderStanding();
  const on = phase === 'recording' || phase === 'opening';
  return (
    <button
      type="button"
      aria-pressed={on}
      aria-keyshortcuts="v"
      {...tip(
        on
          ? 'Stop recording'
          : 'Record a voice note, about the note in hand or this page; what you draw meanwhile is played with it',
      )}
      className={`relative flex w-14 flex-col @max-[58rem]:w-12 items-center gap-0.5 rounded-lg border-2 pt-2 pb-1 ${on ? 'border-garnet bg-raised' : 'border-transparent hover:bg-raised'}`}
      onClick={onPress}
    >
      <span className="absolute top-0 left-1 text-[10px] leading-3 text-soft" aria-hidden="true">
        v
      </span>
      <span className="grid h-6 place-items-center">
        <svg width="40" height="18" viewBox="0 0 40 18" aria-hidden="true">
          {BARS.map((high, i) => (
            <rect
              key={i}
              x={1.5 + i * 4}
              y={9 - high / 2}
              width="2"
              height={high}
              rx="1"
              fill={on ? 'var(--color-garnet)' : 'var(--color-text)'}
            />
          ))}
        </svg>
      </span>
      <span className="max-w-full truncate text-[12px] leading-tight whitespace-nowrap">
        {on ? 'Stop' : 'Voice'}
      </span>
    </button>
  );
}
