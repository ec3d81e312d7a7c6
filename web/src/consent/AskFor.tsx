import type { ClassId } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';

/** Asks for a student whom one does not have, beside the line that says so. */
export function AskFor({ classId, login }: { classId: ClassId; login: string }) {
  const tell = useTell();
  const ask = useMutation({
    mutationFn: () => call('askConsent', { params: { classId }, body: { login } }),
    onSuccess: () => tell('peopleChanged', {}),
  });
  if (ask.isSuccess)
    return <span role="status"> Asked: {login} is in the class as soon as somebody agrees.</span>;
  return (
    <>
      <button
        type="button"
        className="ml-2 min-h-6 text-action underline"
        disabled={ask.isPending}
        onClick={() => ask.mutate()}
      >
        Ask for {login}
      </button>
      {ask.error && <span role="alert"> {sentenceOf(ask.error)}</span>}
    </>
  );
}
