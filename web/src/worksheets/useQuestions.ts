import { type Questions, same, type VersionId, type WorksheetShape } from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';

/** How long an edit rests before it is kept. */
const REST_MS = 600;
const MOST_STEPS = 200;

interface History {
  readonly now: Questions;
  readonly before: readonly Questions[];
  readonly after: readonly Questions[];
  /** Steps with the same key, one right behind the other, are one step. */
  readonly merge: string | null;
}

/** The questions of a worksheet while they are edited: undo and redo, kept by itself, an edit elsewhere told and not swallowed. */
export function useQuestions(worksheet: WorksheetShape) {
  const client = useQueryClient();
  const [history, setHistory] = useState<History>({
    now: worksheet.questions,
    before: [],
    after: [],
    merge: null,
  });
  const base = useRef<{ versionId: VersionId; revision: number }>(worksheet);
  const saved = useRef(worksheet.questions);
  const { now } = history;
  const save = useMutation({
    mutationFn: (questions: Questions) =>
      call('saveQuestions', {
        params: { worksheetId: worksheet.id },
        body: { versionId: base.current.versionId, revision: base.current.revision, questions },
      }),
    onSuccess: (next, questions) => {
      const newVersion = next.versionId !== base.current.versionId;
      base.current = next;
      saved.current = questions;
      client.setQueryData(
        keys.worksheet(worksheet.id),
        (old: WorksheetShape | undefined) =>
          old && {
            ...old,
            questions,
            versionId: next.versionId,
            number: next.number,
            revision: next.revision,
            handedOut: newVersion ? false : old.handedOut,
          },
      );
      tell(client, 'worksheetChanged', {});
    },
  });
  const refused = save.error instanceof CallFailed && save.error.code !== 'offline';
  const dirty = !same(now, saved.current);
  const { mutate, isPending, submittedAt } = save;
  // Asked again after each try, also one that failed before anything was rendered.
  useEffect(() => {
    if (!dirty || isPending || refused) return;
    const clock = setTimeout(() => mutate(now), REST_MS);
    return () => clearTimeout(clock);
  }, [dirty, isPending, refused, now, mutate, submittedAt]);
  useEffect(() => {
    if (!dirty) return;
    const heard = (e: BeforeUnloadEvent) => e.preventDefault();
    window.addEventListener('beforeunload', heard);
    return () => window.removeEventListener('beforeunload', heard);
  }, [dirty]);

  const change = useCallback((next: (now: Questions) => Questions, merge: string | null = null) => {
    setHistory((h) => {
      const questions = next(h.now);
      if (same(questions, h.now)) return h;
      const before = merge !== null && merge === h.merge ? h.before : [...h.before, h.now].slice(-MOST_STEPS);
      return { now: questions, before, after: [], merge };
    });
  }, []);
  const undo = useCallback(
    () =>
      setHistory((h) => {
        const last = h.before.at(-1);
        return last
          ? { now: last, before: h.before.slice(0, -1), after: [h.now, ...h.after], merge: null }
          : h;
      }),
    [],
  );
  const redo = useCallback(
    () =>
      setHistory((h) => {
        const [next, ...after] = h.after;
        return next ? { now: next, before: [...h.before, h.now], after, merge: null } : h;
      }),
    [],
  );
  return {
    questions: now,
    change,
    undo,
    redo,
    canUndo: history.before.length > 0,
    canRedo: history.after.length > 0,
    error: save.error,
    saving: dirty,
  };
}
