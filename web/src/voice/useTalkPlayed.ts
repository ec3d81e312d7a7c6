import { type Mark, placeAt, type Recording, scoreOf } from '@jotmark/core';
import { useMemo, useRef } from 'react';
import { useStable } from '../frame/useStable.ts';
import { TalkStage } from './talk-stage.ts';

export interface TalkPlace {
  readonly document: Mark['document'];
  readonly page: number;
  readonly mark: Mark | null;
}

interface Options {
  /** All marks of the view. */
  readonly marks: readonly Mark[];
  /** The talk is at another place. */
  follow(place: TalkPlace): void;
}

/**
 * Plays talks over the marks of a view: the pen writes them again in time with the voice, and the view goes along. Without sound the marks stand as ever. Nothing is
 * rendered but the page on which something is written.
 */
export function useTalkPlayed(options: Options) {
  const stage = useRef<TalkStage | null>(null);
  stage.current ??= new TalkStage();
  const newest = useRef(options);
  newest.current = options;
  const at = useRef('');
  const score = useMemo(() => {
    let last: { recording: Recording; marks: readonly Mark[]; score: ReturnType<typeof scoreOf> } | null =
      null;
    return (recording: Recording, marks: readonly Mark[]) => {
      if (last?.recording !== recording || last.marks !== marks)
        last = { recording, marks, score: scoreOf(recording.talk!, marks) };
      return last.score;
    };
  }, []);
  const does = useStable({
    onTalk: (recording: Recording, ms: number | null) => {
      const { marks, follow } = newest.current;
      // At its end, and when it is put away, all stand.
      if (ms === null || ms >= recording.ms) {
        at.current = '';
        return stage.current!.show(recording, null);
      }
      stage.current!.show(recording, ms);
      const place = placeAt(score(recording, marks), ms);
      const key = place ? `${place.document} ${place.page} ${place.mark?.id ?? ''}` : '';
      if (!place || key === at.current) return;
      at.current = key;
      follow(place);
    },
  });
  return { stage: stage.current, onTalk: does.onTalk };
}
