import type { Account } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { When } from '../frame/When.tsx';

/** Where I am signed in: each with its last use, and out of it by one press, or out of all but this one. */
export function OwnSessions({ sessions }: { sessions: Account['sessions'] }) {
  const tell = useTell();
  const end = useMutation({
    mutationFn: (sessionId: string | null) =>
      sessionId === null ? call('endOtherSessions') : call('endSession', { params: { sessionId } }),
    onSettled: () => tell('accountChanged', {}),
  });
  const others = sessions.filter((s) => !s.here).length;
  return (
    <section aria-label="Signed in" className="mt-5 rounded-lg bg-raised p-5 shadow-sm">
      <h2 className="font-bold">Where you are signed in</h2>
      <ul className="mt-2 divide-y divide-line">
        {sessions.map((s) => (
          <li key={s.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 py-2">
            <span className="min-w-0 flex-1">
              {s.device || 'A browser that does not say which'}
              {s.here && <b> · this one</b>}
              <span className="block text-sm text-soft">
                {s.begunAt !== null && (
                  <>
                    since <When at={s.begunAt} />
                  </>
                )}
                {s.usedAt !== null && (
                  <>
                    {s.begunAt !== null && ' · '}last used <When at={s.usedAt} />
                  </>
                )}
              </span>
            </span>
            {!s.here && (
              <button
                type="button"
                className="quiet"
                disabled={end.isPending}
                aria-label={`Sign out ${s.device || 'that browser'}`}
                onClick={() => end.mutate(s.id)}
              >
                Sign out
              </button>
            )}
          </li>
        ))}
      </ul>
      {end.error && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(end.error)}
        </p>
      )}
      {others > 0 ? (
        <button
          type="button"
          className="quiet mt-3"
          disabled={end.isPending}
          onClick={() => end.mutate(null)}
        >
          Sign out everywhere else
        </button>
      ) : (
        <p className="mt-2 text-sm text-soft">Nowhere else.</p>
      )}
    </section>
  );
}
