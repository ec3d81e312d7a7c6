import type { PersonId } from '@jotmark/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { toast } from '../frame/toast.ts';
import { plural } from '../time/words.ts';

/** A student who is there twice: the other account is found by its login, what would happen is said, then both are one. */
export function MergePart({
  keep,
  onDone,
}: {
  keep: { readonly id: PersonId; readonly name: string; readonly login: string };
  onDone(): void;
}) {
  const field = useId();
  const tell = useTell();
  const [like, setLike] = useState('');
  const wanted = like.trim().toLowerCase();
  const found = useQuery({
    queryKey: keys.people(wanted, 'student'),
    queryFn: () => call('schoolPeople', { query: { like: wanted, role: 'student' } }),
    enabled: wanted.length >= 2,
  });
  const gone = found.data?.people.find((p) => p.login === wanted && p.id !== keep.id) ?? null;
  const look = useQuery({
    queryKey: keys.merge(keep.id, gone?.id ?? null),
    queryFn: () =>
      call('mergePeople', { params: { personId: keep.id }, body: { gone: gone!.id, look: true } }),
    enabled: gone !== null,
  });
  const merge = useMutation({
    mutationFn: (id: PersonId) =>
      call('mergePeople', { params: { personId: keep.id }, body: { gone: id, look: false } }),
    onSuccess: () => {
      toast(`Both are one account now: ${keep.login}.`);
      tell('peopleChanged', {});
      onDone();
    },
  });
  const goneName = gone && `${gone.given} ${gone.family}`.trim();
  return (
    <section className="mt-5 border-t border-line pt-4" aria-label="Is there twice">
      <h3 className="font-bold">{keep.name} is there twice?</h3>
      <label htmlFor={field} className="text-sm text-soft">
        Login of the other account, which goes
      </label>
      <input
        id={field}
        className="field max-w-xs"
        value={like}
        maxLength={100}
        autoComplete="off"
        onChange={(e) => setLike(e.target.value)}
      />
      {wanted.length >= 2 && found.data && !gone && (
        <p className="mt-2 text-soft">No other student has exactly this login.</p>
      )}
      {(look.error || merge.error) && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(look.error ?? merge.error)}
        </p>
      )}
      {gone && look.data && (
        <div className="mt-2 space-y-2" role="status">
          {look.data.bothHave.length > 0 ? (
            <p className="text-caution">
              They cannot become one: both have work in {look.data.bothHave.join(', ')}. Nothing was changed.
            </p>
          ) : (
            <>
              <p>
                All of {goneName} ({gone.login}) becomes {keep.name}’s:{' '}
                {plural(look.data.copies, 'copy', 'copies')} of work,{' '}
                {plural(look.data.classes, 'class', 'classes')}. The login {gone.login} is no more. This
                cannot be undone.
              </p>
              <button
                type="button"
                className="act"
                disabled={merge.isPending}
                onClick={() => merge.mutate(gone.id)}
              >
                Make both one account
              </button>
            </>
          )}
        </div>
      )}
    </section>
  );
}
