import { type Mark, marksAt, placeAt, type Recording, type Score, scoreOf } from '@jotmark/core';
import { useCallback, useMemo, useRef, useState } from 'react';
import { sameList } from '../frame/useSameList.ts';

/** A talk is shown anew so often, in ms: the eye sees a pen that moves, and a page with hundreds of strokes keeps up. */
const FRAME_MS = 40;

export interface TalkPlace {
  readonly document: Mark['document'];
  readonly page: number;
  readonly mark: Mark | null;
}

/**
 * Marks as they stand while a recording with a talk is played: the pen writes them again in time with the voice. `follow` is called when the talk is at
 * another place. Without sound the marks stand as ever.
 */
export function useTalkPlayed(marks: readonly Mark[], follow: (place: TalkPlace) => void) {
  const [now, setNow] = useState<{ readonly recording: Recording; readonly ms: number } | null>(null);
  const score = useMemo((): Score | null => {
    const talk = now?.recording.talk;
    return talk ? scoreOf(talk, marks) : null;
  }, [now?.recording, marks]);
  const last = useRef<readonly Mark[]>(marks);
  const at = useRef<string>('');
  const shownAt = useRef(0);
  const newest = useRef(follow);
  newest.current = follow;

  const shown = useMemo(() => {
    if (!score || !now) return marks;
    const next = marksAt(score, now.ms);
    if (!sameList(last.current, next)) last.current = next;
    return last.current;
  }, [score, now, marks]);

  const onTalk = useCallback((recording: Recording, ms: number | null) => {
    // At its end, and when it is put away, all stand.
    if (ms === null || ms >= recording.ms) {
      at.current = '';
      return setNow(null);
    }
    if (performance.now() - shownAt.current < FRAME_MS) return;
    shownAt.current = performance.now();
    setNow({ recording, ms });
  }, []);

  const place = score && now ? placeAt(score, now.ms) : null;
  const key = place ? `${place.document} ${place.page} ${place.mark?.id ?? ''}` : '';
  if (place && key !== at.current) {
    at.current = key;
    queueMicrotask(() => newest.current(place));
  }
  return { marks: shown, onTalk, playing: now !== null };
}
