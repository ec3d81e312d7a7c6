import { clockOf, MOST_CLIP_MS, MOST_VOICE_MS } from '@jotmark/core';
import { Square, Trash2 } from 'lucide-react';
import { memo, useEffect, useRef } from 'react';
import { tip } from '../frame/tip.ts';
import { recorder } from './recorder-here.ts';
import { useRecorder } from './useRecorder.ts';

const METER = 14;

/** What is being recorded: how long, how loud, what was heard; stopped by the same key, or thrown away. */
export function RecordingBar() {
  const phase = useRecorder('phase');
  const take = useRecorder('take');
  const sees = useRecorder('sees');
  const video = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    if (video.current) video.current.srcObject = sees;
  }, [sees]);
  if (phase === 'idle') return null;
  const most = take?.clip ? MOST_CLIP_MS : MOST_VOICE_MS;
  const what = take?.clip ? 'Recording a clip' : 'Recording';
  return (
    <section
      aria-label="Recorder"
      className="flex max-w-full flex-col gap-1.5 rounded-xl border border-action bg-raised px-3 py-1.5 shadow-lg select-none"
      data-own-pointer
    >
      {sees && <video ref={video} autoPlay muted playsInline className="mx-auto h-40 rounded bg-black" />}
      <div className="flex items-center gap-3">
        <span
          aria-hidden="true"
          className={`size-3 shrink-0 rounded-full bg-garnet ${phase === 'recording' ? 'motion-safe:animate-pulse' : 'opacity-30'}`}
        />
        {phase === 'recording' ? (
          <>
            <span className="font-semibold whitespace-nowrap tabular">
              {what} <Seconds />
              <span className="font-normal text-soft"> / {clockOf(most)}</span>
            </span>
            <Meter />
            <Heard />
            <button
              type="button"
              className="act !min-h-8 flex items-center gap-1.5 !px-3 !py-1"
              onClick={() => recorder.end()}
            >
              <Square size={13} fill="currentColor" aria-hidden="true" /> Stop{' '}
              <span className="font-normal opacity-80">v</span>
            </button>
            <button
              type="button"
              aria-label="Discard the recording"
              className="flex items-center gap-1 rounded px-1.5 py-1 text-sm text-soft hover:bg-action-wash hover:text-caution"
              onClick={() => recorder.drop()}
            >
              <Trash2 size={14} aria-hidden="true" /> Discard
            </button>
          </>
        ) : (
          <span className="text-soft">
            {phase === 'opening' ? 'Waiting for the microphone …' : 'Making the recording ready …'}
          </span>
        )}
      </div>
      <p role="status" className="sr-only">
        {phase === 'recording' ? `${what}. Press v again to stop.` : ''}
      </p>
    </section>
  );
}

/** Rendered once a second, and nothing else with it. */
function Seconds() {
  return <>{clockOf(useRecorder('seconds') * 1000)}</>;
}

/** What was heard last, and whether it is written down. */
function Heard() {
  const heard = useRecorder('heard');
  const writes = useRecorder('writes');
  const standIn = useRecorder('standIn');
  return (
    <div className="flex min-w-0 items-center gap-2 text-[13px] text-soft">
      <p className="w-52 truncate">{heard || heardNothing(writes, standIn)}</p>
      {writes !== null && <WritesDown on={writes} />}
    </div>
  );
}

const WritesDown = memo(function WritesDown({ on }: { on: boolean }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      {...tip(
        'Write down what you say, as text for the student. Some browsers send it to their maker for that.',
      )}
      className={`shrink-0 rounded border px-1.5 ${on ? 'border-action bg-action-wash text-action' : 'border-line-strong'}`}
      onClick={() => recorder.writeDown(!on)}
    >
      Text
    </button>
  );
});

/** How loud it is. It moves without anything being rendered: a pen that writes meanwhile waits for nothing. */
function Meter() {
  const lit = useRef<HTMLSpanElement>(null);
  useEffect(
    () =>
      recorder.onLevel((level) => {
        lit.current?.style.setProperty('clip-path', `inset(0 ${Math.round(100 - level * 100)}% 0 0)`);
      }),
    [],
  );
  return (
    <span role="img" aria-label="Level" className="relative h-5">
      <Bars colour="bg-line-strong" />
      <span ref={lit} className="absolute inset-0" style={{ clipPath: 'inset(0 100% 0 0)' }}>
        <Bars colour="bg-action" />
      </span>
    </span>
  );
}

function Bars({ colour }: { colour: string }) {
  return (
    <span className="flex h-full items-center gap-0.5">
      {Array.from({ length: METER }, (_, i) => (
        <span
          key={i}
          className={`w-1 rounded-full ${colour}`}
          style={{ height: `${40 + (60 * i) / METER}%` }}
        />
      ))}
    </span>
  );
}

function heardNothing(writes: boolean | null, standIn: boolean): string {
  if (writes === null) return 'Its text can be typed afterwards.';
  if (standIn) return 'A stand-in speaks: no microphone.';
  return writes ? 'Listening …' : '';
}
