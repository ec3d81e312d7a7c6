import { type ClassId, type JoinCode, joinCodeShown } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { ConsentLines } from '../consent/ConsentLines.tsx';
import { toast } from '../frame/toast.ts';

/** Students who have a login ask by a code on the board, instead of being typed; each is let in by the teacher. */
export function JoinCodePart({ classId, code }: { classId: ClassId; code: JoinCode | null }) {
  const tell = useTell();
  const set = useMutation({
    mutationFn: (on: boolean) => call('joinCode', { params: { classId }, body: { on } }),
    onError: (error) => void toast.error(sentenceOf(error)),
    onSettled: () => tell('registerChanged', { classId }),
  });
  return (
    <>
      <section aria-label="Join with a code" className="mt-4 rounded-lg bg-raised p-5 shadow-sm">
        <h2 className="font-bold">Join with a code</h2>
        {code === null ? (
          <p className="text-sm text-soft">
            Students who have a login already can ask to be let in themselves, with a code that you show them.
          </p>
        ) : (
          <>
            <p className="my-2 text-4xl font-bold tracking-widest">{joinCodeShown(code)}</p>
            <p className="text-sm text-soft">
              Students type it under My work, “Join a class”. Nobody is in the class before you let them in.
              Who asks stands here and in your news.
            </p>
          </>
        )}
        <div className="mt-3 flex flex-wrap gap-2">
          <button type="button" className="quiet" disabled={set.isPending} onClick={() => set.mutate(true)}>
            {code === null ? 'Make a code' : 'Make another code'}
          </button>
          {code !== null && (
            <button
              type="button"
              className="quiet"
              disabled={set.isPending}
              onClick={() => set.mutate(false)}
            >
              End the code
            </button>
          )}
        </div>
      </section>
      <div className="mt-4">
        <ConsentLines classId={classId} />
      </div>
    </>
  );
}
