import { routes } from '@jotmark/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { Navigate } from 'react-router';
import * as z from 'zod';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { LineField, useFields } from '../frame/fields.tsx';
import { useHere } from '../frame/session.tsx';
import { Trouble } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { OwnSessions } from './OwnSessions.tsx';
import { SecondStep } from './SecondStep.tsx';

const OwnPassword = routes.changePassword.body.extend({ old: z.string().min(1).max(200) });

/** Who comes: somebody who wants another password, or to see where they are signed in. */
export function AccountView() {
  const { session, enter } = useHere();
  const form = useFields(OwnPassword, { old: '', next: '' });
  const { register, formState } = form;
  const change = useMutation({
    mutationFn: (body: { old: string; next: string }) => call('changePassword', { body }),
    onSuccess: () => form.reset(),
  });
  const account = useQuery({
    queryKey: keys.account,
    queryFn: () => call('account'),
    enabled: session.person !== null,
  });
  const tell = useTell();
  if (!session.person) return <Navigate to="/sign-in" replace />;
  return (
    <>
      <TopBar crumbs={[{ text: 'My account' }]} />
      <main className="mx-auto max-w-md p-6">
        {session.needsStep && (
          <p role="status" className="mb-4 rounded-lg bg-action-wash p-3">
            Your school asks teachers for a second step when they sign in. Set it up below; then everything is
            open to you.
          </p>
        )}
        <p>
          {session.person.given} {session.person.family}, login <strong>{session.person.login}</strong>
        </p>
        <form
          className="mt-5 space-y-3 rounded-lg bg-raised p-5 shadow-sm"
          onSubmit={form.handleSubmit((body) => change.mutate(body))}
        >
          <LineField
            label="Current password"
            type="password"
            autoComplete="current-password"
            wrong={formState.errors.old && 'Type the password you signed in with.'}
            {...register('old')}
          />
          <LineField
            label="New password, at least 10 letters"
            type="password"
            autoComplete="new-password"
            wrong={formState.errors.next && 'It needs at least 10 letters, and at most 200.'}
            {...register('next')}
          />
          {change.error && (
            <p role="alert" className="text-caution">
              {sentenceOf(change.error)}
            </p>
          )}
          {change.isSuccess && (
            <p role="status">Your password is changed. Every other device is signed out.</p>
          )}
          <button type="submit" className="act" disabled={change.isPending}>
            Change password
          </button>
        </form>
        {account.error && <Trouble error={account.error} again={() => account.refetch()} />}
        {account.data && (
          <>
            <SecondStep
              step={account.data.step}
              onChanged={() => {
                // What was closed until now is open.
                if (session.needsStep) void enter({ ...session, needsStep: false });
                tell('accountChanged', {});
              }}
            />
            <OwnSessions sessions={account.data.sessions} />
          </>
        )}
      </main>
    </>
  );
}
