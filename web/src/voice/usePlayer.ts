import { captionAt, type Recording } from '@jotmark/core';
import { use, useCallback, useEffect, useRef, useState } from 'react';
import { useStable } from '../frame/useStable.ts';
import { keepPlace, keepSpeed, keptPlace, keptSpeed, SPEEDS, speaks, VoicesContext } from './playing.ts';
import { useSource } from './source.ts';
import type { WaveMover } from './Wave.tsx';

/** How often it is told how far one has heard, in ms. */
const TELL_MS = 2000;
/** How often a talk moves on, in ms: the eye sees a pen that moves, and a page with hundreds of strokes keeps up. */
const FRAME_MS = 40;
/** Its wave moves once in so many of them. */
const MOVES = 3;
/** Nearer to the end than this, in ms, it was heard to its end, and begins anew. */
const NEAR_END_MS = 400;

/**
 * One recording that can be heard: where it is, how fast, and what to do when it cannot be played. It is rendered once a second and with each caption; the wave and a
 * talk move by themselves.
 */
export function usePlayer(recording: Recording) {
  const here = use(VoicesContext);
  const { file, ms: length, captions } = recording;
  const media = useRef<HTMLVideoElement | HTMLAudioElement | null>(null);
  const wave = useRef<WaveMover>(null);
  const { address, fails } = useSource(recording);
  const [playing, setPlaying] = useState(false);
  const [trouble, setTrouble] = useState<'none' | 'trying' | 'broken'>('none');
  const [speed, setSpeed] = useState(keptSpeed);
  const begin = useRef(keptPlace(file) ?? (here.tells === 'nothing' ? (here.heard.get(file)?.left ?? 0) : 0));
  const at = useRef(begin.current);
  const [shown, setShown] = useState(() => ({
    second: Math.floor(begin.current / 1000),
    caption: captionAt(captions, begin.current),
  }));
  const reached = useRef(here.heard.get(file)?.reached ?? 0);
  const told = useRef(0);
  const newest = useRef(here);
  newest.current = here;

  const isAt = useCallback(
    (ms: number) => {
      at.current = ms;
      wave.current?.moveTo(ms);
      const next = { second: Math.floor(ms / 1000), caption: captionAt(captions, ms) };
      setShown((was) => (was.second === next.second && was.caption === next.caption ? was : next));
    },
    [captions],
  );
  const tell = useCallback(
    (ms: number, now: boolean) => {
      reached.current = Math.max(reached.current, ms);
      if (!now && performance.now() - told.current < TELL_MS) return;
      told.current = performance.now();
      keepPlace(file, ms >= length - NEAR_END_MS ? 0 : ms);
      newest.current.onHeard?.(
        file,
        Math.min(length, Math.round(reached.current)),
        Math.min(length, Math.round(ms)),
      );
    },
    [file, length],
  );

  useEffect(() => {
    if (!playing) return;
    let turn = 0;
    const clock = setInterval(() => {
      // While one writes nothing else moves.
      if (newest.current.busy?.()) return;
      const ms = (media.current?.currentTime ?? 0) * 1000;
      if (recording.talk) newest.current.onTalk?.(recording, ms);
      if (turn++ % MOVES) return;
      isAt(ms);
      tell(ms, false);
    }, FRAME_MS);
    return () => clearInterval(clock);
  }, [playing, recording, isAt, tell]);
  useEffect(
    () => () => {
      if (recording.talk) newest.current.onTalk?.(recording, null);
    },
    [recording],
  );

  const misplays = () => {
    setPlaying(false);
    setTrouble(fails() ? 'trying' : 'broken');
  };
  const does = useStable({
    seek(ms: number) {
      const to = Math.max(0, Math.min(length, ms));
      if (media.current) media.current.currentTime = to / 1000;
      isAt(to);
      keepPlace(file, to);
      if (recording.talk) newest.current.onTalk?.(recording, to);
    },
    toggle() {
      const element = media.current;
      if (!element || !address) return;
      if (playing) return element.pause();
      const from = at.current >= length - NEAR_END_MS ? 0 : at.current;
      if (Math.abs(element.currentTime * 1000 - from) > 50) element.currentTime = from / 1000;
      element.playbackRate = speed;
      speaks(element);
      setTrouble('none');
      element.play().catch((error: unknown) => {
        // It may have failed before anybody listened.
        if (error instanceof DOMException && error.name === 'NotSupportedError') misplays();
      });
    },
    faster() {
      const next = SPEEDS[(SPEEDS.indexOf(speed as (typeof SPEEDS)[number]) + 1) % SPEEDS.length]!;
      setSpeed(next);
      keepSpeed(next);
      if (media.current) media.current.playbackRate = next;
    },
    onPlay: () => setPlaying(true),
    onPause: () => {
      setPlaying(false);
      const ms = (media.current?.currentTime ?? 0) * 1000;
      isAt(ms);
      tell(ms, true);
    },
    onEnded: () => {
      setPlaying(false);
      isAt(length);
      tell(length, true);
      if (recording.talk) newest.current.onTalk?.(recording, length);
    },
    onError: misplays,
    onLoadedMetadata: () => {
      if (media.current && at.current > 0) media.current.currentTime = Math.min(at.current, length) / 1000;
      setTrouble('none');
    },
  });
  const { onPlay, onPause, onEnded, onError, onLoadedMetadata } = does;
  return {
    media,
    wave,
    address,
    playing,
    trouble,
    begin: begin.current,
    /** In whole seconds. */
    second: shown.second,
    /** Which caption is said. */
    caption: shown.caption,
    speed,
    does,
    events: { onPlay, onPause, onEnded, onError, onLoadedMetadata },
  };
}
