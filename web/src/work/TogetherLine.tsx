import type { CopyId, Work } from '@jotmark/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { When } from '../frame/When.tsx';

/** With whom one works on this copy; as long as one may choose, with whom one could. */
export function TogetherLine({ work }: { work: Work }) {
  const { together, row } = work;
  const [choosing, setChoosing] = useState(false);
  if (!together) return null;
  const { others, mayChoose } = together;
  return (
    <section aria-label="Working together" className="rounded-lg bg-action-wash/60 p-3">
      <p>
        {others.length ? (
          <>
            You work on this with <strong>{listed(others)}</strong>. Each of you can hand it in for all.
          </>
        ) : (
          'You work on this alone so far.'
        )}
      </p>
      {mayChoose && row.place === 'with-student' && (
        <button
          type="button"
          className="quiet mt-2"
          aria-expanded={choosing}
          onClick={() => setChoosing(!choosing)}
        >
          Choose with whom
        </button>
      )}
      {choosing && <Groups copyId={row.copyId} onDone={() => setChoosing(false)} />}
    </section>
  );
}

const listed = (names: readonly string[]) =>
  names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;

function Groups({ copyId, onDone }: { copyId: CopyId; onDone(): void }) {
  const navigate = useNavigate();
  const tell = useTell();
  const groups = useQuery({
    queryKey: keys.groups(copyId),
    queryFn: () => call('groupsToChoose', { params: { copyId } }),
    refetchInterval: 5000,
  });
  const join = useMutation({
    mutationFn: (to: CopyId | null) => call('joinGroup', { params: { copyId }, body: { to } }),
    onSuccess: ({ copyId: now }) => {
      tell('copyChanged', { copyId: now });
      onDone();
      if (now !== copyId) navigate(`/work/${now}`, { replace: true });
    },
    onSettled: () => groups.refetch(),
  });
  if (!groups.data) return <p className="mt-2 text-soft">Loading the groups …</p>;
  const { groups: all, until, most } = groups.data;
  const mine = all.find((g) => g.mine);
  return (
    <div className="mt-2">
      {until !== null && (
        <p className="text-sm text-soft">
          Until <When at={until} />, at most {most} together.
        </p>
      )}
      <ul className="mt-1 max-h-64 divide-y divide-line overflow-auto rounded border border-line bg-paper">
        {all
          .filter((g) => !g.mine)
          .map((g) => (
            <li key={g.copyId} className="flex items-center gap-2 px-3 py-1.5">
              <span className="min-w-0 flex-1">{listed(g.members)}</span>
              <button
                type="button"
                className="quiet !min-h-9 !py-1"
                disabled={g.closed || join.isPending}
                aria-label={`Work with ${listed(g.members)}`}
                onClick={() => join.mutate(g.copyId)}
              >
                {g.closed ? 'Full' : 'Join'}
              </button>
            </li>
          ))}
      </ul>
      {mine && mine.members.length > 1 && (
        <button
          type="button"
          className="quiet mt-2"
          disabled={join.isPending}
          onClick={() => join.mutate(null)}
        >
          Leave this group
        </button>
      )}
      {join.error && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(join.error)}
        </p>
      )}
    </div>
  );
}
