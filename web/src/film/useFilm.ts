import { type DocumentId, MOST_FILM_MS } from '@jotmark/core';
import { useEffect, useRef, useState } from 'react';
import { canJump } from './jump.ts';

/** How far one step goes, in ms; a small one with Shift. */
export const STEP_MS = 5000;
export const SMALL_STEP_MS = 1000;
/** So often it is looked where it is while it plays, in ms. */
const LOOK_MS = 100;

/** A film or a sound that is watched and marked: where it is, how long, and the ways through it. */
export function useFilm(document: DocumentId) {
  const media = useRef<HTMLVideoElement | HTMLAudioElement | null>(null);
  const [at, setAt] = useState(0);
  const [length, setLength] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [broken, setBroken] = useState(false);
  const now = () => Math.round((media.current?.currentTime ?? 0) * 1000);
  const jump = (ms: number) => {
    const to = Math.max(0, Math.min(length || MOST_FILM_MS, ms));
    if (media.current) media.current.currentTime = to / 1000;
    setAt(to);
  };
  const newest = useRef(jump);
  newest.current = jump;
  useEffect(
    () =>
      canJump(document, (ms) => {
        newest.current(ms);
        media.current?.pause();
        media.current?.scrollIntoView({ block: 'nearest' });
      }),
    [document],
  );
  useEffect(() => {
    if (!playing) return;
    const clock = setInterval(() => setAt(Math.round((media.current?.currentTime ?? 0) * 1000)), LOOK_MS);
    return () => clearInterval(clock);
  }, [playing]);
  /** Some recorders write no length: it is known when the end was asked for. */
  const measure = () => {
    const seconds = media.current?.duration ?? 0;
    if (Number.isFinite(seconds)) return setLength(Math.round(seconds * 1000));
    const element = media.current!;
    element.addEventListener(
      'seeked',
      () => {
        if (Number.isFinite(element.duration)) setLength(Math.round(element.duration * 1000));
        element.currentTime = 0;
      },
      { once: true },
    );
    element.currentTime = MOST_FILM_MS / 1000;
  };
  // What is known before it is in the page is told to nobody.
  const begin = useRef(measure);
  useEffect(() => {
    if ((media.current?.readyState ?? 0) >= HTMLMediaElement.HAVE_METADATA) begin.current();
  }, []);
  return {
    media,
    at,
    length,
    playing,
    broken,
    now,
    jump,
    step: (by: number) => jump(now() + by),
    pause: () => media.current?.pause(),
    toggle: () => (playing ? media.current?.pause() : void media.current?.play().catch(() => {})),
    events: {
      onLoadedMetadata: measure,
      onDurationChange: () => {
        const seconds = media.current?.duration ?? 0;
        if (Number.isFinite(seconds) && seconds > 0) setLength(Math.round(seconds * 1000));
      },
      onPlay: () => setPlaying(true),
      onPause: () => {
        setPlaying(false);
        setAt(now());
      },
      onSeeked: () => setAt(now()),
      onError: () => setBroken(true),
    },
  };
}

export type Film = ReturnType<typeof useFilm>;
