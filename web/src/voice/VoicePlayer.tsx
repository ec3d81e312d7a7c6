import { clockOf, isClip, type Recording } from '@jotmark/core';
import { Pause, Play } from 'lucide-react';
import { use, useId, useState } from 'react';
import { VoicesContext } from './playing.ts';
import { usePlayer } from './usePlayer.ts';
import { Wave } from './Wave.tsx';

export interface PlayerProps {
  readonly recording: Recording;
  /** What it is called: "Voice note", "Recording about your whole copy". */
  readonly label: string;
  /** For thumbs: larger, with the words open. */
  readonly large?: boolean;
}

/** Something that was said, to be heard: its wave is where one is and where one goes, its words stand below. */
export function VoicePlayer({ recording, label, large = false }: PlayerProps) {
  const { heard, tells } = use(VoicesContext);
  const player = usePlayer(recording);
  const [shown, setShown] = useState(large);
  const words = useId();
  const { captions, ms } = recording;
  const Sign = player.playing ? Pause : Play;
  const begun = player.playing || player.second > 0;
  const far = heard.get(recording.file)?.reached ?? 0;
  return (
    <section aria-label={`${label}, ${clockOf(ms)}`} className="select-text" data-own-pointer>
      {isClip(recording) ? (
        <video
          ref={player.media as React.RefObject<HTMLVideoElement | null>}
          src={player.address ?? undefined}
          preload="metadata"
          playsInline
          className="mb-1 max-h-56 w-full rounded bg-black"
          {...player.events}
        />
      ) : (
        <audio
          ref={player.media as React.RefObject<HTMLAudioElement | null>}
          src={player.address ?? undefined}
          preload="metadata"
          {...player.events}
        />
      )}
      <div
        className={`flex items-center rounded-full bg-margin ${large ? 'h-12 gap-2 px-2' : 'h-9 gap-1 pr-1.5 pl-1'}`}
      >
        <button
          type="button"
          aria-label={player.playing ? `Pause ${label}` : `Play ${label}`}
          className={`grid shrink-0 place-items-center rounded-full text-action hover:bg-action-wash ${large ? 'size-10' : 'size-7'}`}
          onClick={player.does.toggle}
        >
          <Sign size={large ? 20 : 15} fill="currentColor" aria-hidden="true" />
        </button>
        <Wave
          peaks={recording.peaks}
          ms={ms}
          begin={player.begin}
          mover={player.wave}
          label={`Where ${label} is`}
          onSeek={player.does.seek}
        />
        <span className="shrink-0 text-[12px] whitespace-nowrap text-soft tabular">
          {large && begun ? `${clockOf(player.second * 1000)} / ` : ''}
          {large || !begun ? clockOf(ms) : clockOf(player.second * 1000)}
        </span>
        <button
          type="button"
          aria-label={`Speed, ${player.speed} times`}
          className={`shrink-0 rounded px-1 text-[12px] tabular hover:bg-action-wash hover:text-action ${large ? 'min-h-10 min-w-10' : 'min-h-6'}`}
          onClick={player.does.faster}
        >
          {player.speed} ×
        </button>
        {captions.length > 0 && (
          <button
            type="button"
            aria-expanded={shown}
            aria-controls={words}
            className={`shrink-0 rounded border border-line-strong bg-paper px-1 text-[12px] hover:border-action ${large ? 'mr-1 min-h-9 min-w-11' : ''}`}
            onClick={() => setShown(!shown)}
          >
            Text
          </button>
        )}
      </div>
      {player.trouble === 'broken' && (
        <p role="alert" className="mt-1 text-[13px] text-caution">
          It cannot be played here just now.{' '}
          {captions.length > 0 ? 'Its words are under Text.' : 'Try again in a minute.'}
        </p>
      )}
      {shown && captions.length > 0 && (
        <ol id={words} aria-label={`Words of ${label}`} className="mt-1 px-1 text-[14px] leading-snug">
          {captions.map((c, i) => (
            <li
              key={`${c.at} ${c.words}`}
              aria-current={player.caption === i && player.playing ? 'true' : undefined}
            >
              <button
                type="button"
                className="min-h-6 w-full rounded px-1 py-0.5 text-left hover:bg-action-wash aria-[current]:bg-action-wash"
                aria-label={`${c.words} ${clockOf(c.at)}`}
                onClick={() => player.does.seek(c.at)}
              >
                {c.words}
              </button>
            </li>
          ))}
        </ol>
      )}
      {tells === 'that-it-was-heard' && far > 0 && (
        <p className="mt-0.5 px-1 text-[12px] text-soft">
          {far >= ms - 1500 ? 'Heard' : `Heard as far as ${clockOf(far)}`}
        </p>
      )}
    </section>
  );
}
