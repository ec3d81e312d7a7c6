import { useMutation } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { Navigate } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useHere } from '../frame/session.tsx';
import { TopBar } from '../frame/TopBar.tsx';

/** Who comes: somebody with a first password from a sheet. One thing to do: a password of one's own. */
export function AccountView() {
  const { session } = useHere();
  const [old, setOld] = useState('');
  const [next, setNext] = useState('');
  const ids = [useId(), useId()] as const;
  const change = useMutation({
    mutationFn: () => call('changePassword', { body: { old, next } }),
    onSuccess: () => {
      setOld('');
      setNext('');
    },
  });
  if (!session.person) return <Navigate to="/sign-in" replace />;
  return (
    <>
      <TopBar crumbs={[{ text: 'My account' }]} />
      <main className="mx-auto max-w-md p-6">
        <p>
          {session.person.given} {session.person.family}, login <strong>{session.person.login}</strong>
        </p>
        <form
          className="mt-5 space-y-3 rounded-lg bg-raised p-5 shadow-sm"
          onSubmit={(e) => {
            e.preventDefault();
            change.mutate();
          }}
        >
          <div>
            <label htmlFor={ids[0]} className="text-sm text-soft">
              Password until now
            </label>
            <input
              id={ids[0]}
              type="password"
              autoComplete="current-password"
              className="field"
              value={old}
              onChange={(e) => setOld(e.target.value)}
            />
          </div>
          <div>
            <label htmlFor={ids[1]} className="text-sm text-soft">
              New password, at least 8 letters
            </label>
            <input
              id={ids[1]}
              type="password"
              autoComplete="new-password"
              minLength={8}
              className="field"
              value={next}
              onChange={(e) => setNext(e.target.value)}
            />
          </div>
          {change.error && (
            <p role="alert" className="text-caution">
              {sentenceOf(change.error)}
            </p>
          )}
          {change.isSuccess && <p role="status">The new password holds from now on.</p>}
          <button type="submit" className="act" disabled={!old || next.length < 8 || change.isPending}>
            Change the password
          </button>
        </form>
      </main>
    </>
  );
}
