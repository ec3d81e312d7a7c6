import type { Question, QuestionId } from '@jotmark/core';
import { useCallback, useMemo, useState } from 'react';
import { type Writers, writerAt } from '../writing/writer.ts';

/** The texts that grow on a copy: what else can be done with them, and how they read. The editor itself is loaded when it is wanted. */
export function useWriting(alone: boolean) {
  const writers: Writers = useMemo(() => new Map(), []);
  const [words, setWords] = useState<ReadonlyMap<QuestionId, string>>(new Map());
  const [pending, setPending] = useState(false);
  const onWords = useCallback(
    ({ id }: Question, now: string) =>
      setWords((before) => (before.get(id) === now ? before : new Map(before).set(id, now))),
    [],
  );
  return {
    writers,
    words,
    pending,
    onWords,
    onPending: setPending,
    flush: () => {
      for (const writer of writers.values()) writer.flush();
    },
    /** Takes back, or does again, in the text one writes; false: one writes in none. */
    back: (how: 'undo' | 'redo'): boolean => {
      const writer = writerAt(writers, alone);
      writer?.[how]();
      return writer !== null;
    },
  };
}
