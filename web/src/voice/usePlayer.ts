import type { Recording } from '@jotmark/core';
import { use, useCallback, useEffect, useRef, useState } from 'react';
import { keepPlace, keepSpeed, keptPlace, keptSpeed, SPEEDS, speaks, VoicesContext } from './playing.ts';
import { useSource } from './source.ts';

/** How often it is told how far one has heard, in ms. */
const TELL_MS = 2000;
/** Nearer to the end than this, in ms, it was heard to its end, and begins anew. */
const NEAR_END_MS = 400;

/** One recording that can be heard: where it is, how fast, and what to do when it cannot be played. */
export function usePlayer(recording: Recording) {
  const here = use(VoicesContext);
  const { file, ms: length } = recording;
  const media = useRef<HTMLVideoElement | HTMLAudioElement | null>(null);
  const { address, fails } = useSource(recording);
  const [playing, setPlaying] = useState(false);
  const [trouble, setTrouble] = useState<'none' | 'trying' | 'broken'>('none');
  const [speed, setSpeed] = useState(keptSpeed);
  const [at, setAt] = useState(() => keptPlace(file) ?? here.heard.get(file)?.left ?? 0);
  const reached = useRef(here.heard.get(file)?.reached ?? 0);
  const told = useRef(0);
  const newest = useRef(here);
  newest.current = here;

  const tell = useCallback(
    (ms: number, now: boolean) => {
      reached.current = Math.max(reached.current, ms);
      keepPlace(file, ms >= length - NEAR_END_MS ? 0 : ms);
      if (!now && performance.now() - told.current < TELL_MS) return;
      told.current = performance.now();
      newest.current.onHeard?.(
        file,
        Math.min(length, Math.round(reached.current)),
        Math.min(length, Math.round(ms)),
      );
    },
    [file, length],
  );

  // While it plays, each frame says where it is: the media's own events come four times a second.
  useEffect(() => {
    if (!playing) return;
    let frame = 0;
    const step = () => {
      const ms = (media.current?.currentTime ?? 0) * 1000;
      setAt(ms);
      tell(ms, false);
      if (recording.talk) newest.current.onTalk?.(recording, ms);
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [playing, recording, tell]);
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
  const seek = (ms: number) => {
    const to = Math.max(0, Math.min(length, ms));
    if (media.current) media.current.currentTime = to / 1000;
    setAt(to);
    keepPlace(file, to);
    if (recording.talk) newest.current.onTalk?.(recording, to);
  };
  return {
    media,
    address,
    playing,
    trouble,
    at,
    speed,
    toggle() {
      const element = media.current;
      if (!element || !address) return;
      if (playing) return element.pause();
      const from = at >= length - NEAR_END_MS ? 0 : at;
      if (Math.abs(element.currentTime * 1000 - from) > 50) element.currentTime = from / 1000;
      element.playbackRate = speed;
      speaks(element);
      setTrouble('none');
      element.play().catch((error: unknown) => {
        // It may have failed before anybody listened.
        if (error instanceof DOMException && error.name === 'NotSupportedError') misplays();
      });
    },
    seek,
    faster() {
      const next = SPEEDS[(SPEEDS.indexOf(speed as (typeof SPEEDS)[number]) + 1) % SPEEDS.length]!;
      setSpeed(next);
      keepSpeed(next);
      if (media.current) media.current.playbackRate = next;
    },
    events: {
      onPlay: () => setPlaying(true),
      onPause: () => {
        setPlaying(false);
        tell((media.current?.currentTime ?? 0) * 1000, true);
      },
      onEnded: () => {
        setPlaying(false);
        setAt(length);
        tell(length, true);
        if (recording.talk) newest.current.onTalk?.(recording, length);
      },
      onError: misplays,
      onLoadedMetadata: () => {
        if (media.current && at > 0) media.current.currentTime = Math.min(at, length) / 1000;
        setTrouble('none');
      },
    },
  };
}
