import { type AssignmentSheet, type AssignmentWords, type Audience, same } from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';

/** How long edits of a draft rest before they are kept. */
const REST_MS = 700;

/** The words of an assignment and for whom it is, while they are edited: a draft keeps itself, an edit elsewhere is told and not swallowed. */
export function useAssignmentEdit(sheet: AssignmentSheet) {
  const client = useQueryClient();
  const draft = sheet.stage === 'draft';
  const [words, setWords] = useState(sheet.words);
  const [audience, setAudience] = useState(sheet.audience);
  const show = useCallback(
    (next: AssignmentSheet) => client.setQueryData(keys.assignment(next.id), next),
    [client],
  );
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const save = useMutation({
    mutationFn: (edit: { words: AssignmentWords; audience: Audience; news: string | null }) => {
      // One after the other, each on the revision that the one before made: two at once would look like somebody else's.
      const saved = line.current.then(async () => {
        const next = await call('saveAssignment', {
          params: { assignmentId: sheet.id },
          body: {
            ...edit,
            revision: client.getQueryData<AssignmentSheet>(keys.assignment(sheet.id))!.revision,
          },
        });
        show(next);
        return next;
      });
      line.current = saved.catch(() => {});
      return saved;
    },
    onSuccess: (next) => {
      tell(client, 'assignmentSaved', { classId: next.classId, assignmentId: next.id });
    },
  });
  const dirty = !same(words, sheet.words) || !same(audience, sheet.audience);
  const { mutate, mutateAsync, isPending, submittedAt } = save;
  const refused = save.error instanceof CallFailed && save.error.code !== 'offline';
  // A draft keeps itself; what students see already changes only when told to.
  useEffect(() => {
    if (!draft || !dirty || isPending || refused) return;
    const clock = setTimeout(() => mutate({ words, audience, news: null }), REST_MS);
    return () => clearTimeout(clock);
  }, [draft, dirty, isPending, refused, words, audience, mutate, submittedAt]);
  useLeaveWarning(dirty);
  const change = (part: Partial<AssignmentWords>) => {
    if (save.error) save.reset();
    setWords((old) => ({ ...old, ...part }));
  };
  const keepNow = async () => {
    if (dirty) await mutateAsync({ words, audience, news: null });
  };
  const takeNewest = async () => {
    const next = await call('assignment', { params: { assignmentId: sheet.id } });
    show(next);
    save.reset();
    setWords(next.words);
    setAudience(next.audience);
  };
  return {
    words,
    audience,
    draft,
    dirty,
    error: save.error,
    busy: isPending,
    change,
    setAudience,
    show,
    keepNow,
    takeNewest,
    /** What students see already is changed, with a word to them or without. */
    saveNow: (news: string | null, then: () => void) =>
      mutate({ words, audience, news }, { onSuccess: then }),
    drop: () => setWords(sheet.words),
  };
}

export type AssignmentEdit = ReturnType<typeof useAssignmentEdit>;

function useLeaveWarning(dirty: boolean): void {
  useEffect(() => {
    if (!dirty) return;
    const heard = (e: BeforeUnloadEvent) => e.preventDefault();
    window.addEventListener('beforeunload', heard);
    return () => window.removeEventListener('beforeunload', heard);
  }, [dirty]);
}
