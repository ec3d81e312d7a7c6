import { useMutation } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { LineField } from '../frame/fields.tsx';
import { useHere } from '../frame/session.tsx';
import { useTitle } from '../frame/useTitle.ts';
import { When } from '../frame/When.tsx';
import { Emblem } from '../look/glyphs.tsx';

const LEAST = 10;

interface Typed {
  readonly next: string;
  readonly again: string;
}

/** Who comes: a student with a password from a sheet, who has just typed it. One thing to do before all else: a password that nobody else has seen. */
export function ChooseOwn() {
  const { session, enter, leave } = useHere();
  const { register, handleSubmit, getValues, formState } = useForm<Typed>({
    defaultValues: { next: '', again: '' },
  });
  const change = useMutation({
    mutationFn: ({ next }: Typed) => call('changePassword', { body: { old: null, next } }),
    onSuccess: () => enter({ ...session, firstPassword: false }),
  });
  useTitle(['Choose your own password']);
  return (
    <main className="mx-auto flex min-h-full max-w-md flex-col justify-center p-6">
      <Emblem />
      <h1 className="mt-3 text-2xl font-bold">Choose your own password</h1>
      <p className="mt-2">
        Hello {session.person?.given}.{' '}
        {session.reset ? (
          <>
            {session.reset.by || 'Somebody'} made you a new password, <When at={session.reset.at} />.
          </>
        ) : (
          'The password on your sheet was made by somebody else.'
        )}{' '}
        Choose one that only you know; from now on you sign in with it.
      </p>
      <form
        className="mt-5 space-y-3 rounded-lg bg-raised p-5 shadow-sm"
        onSubmit={handleSubmit((typed) => change.mutate(typed))}
      >
        {/* For what keeps passwords: whose it is. */}
        <input type="hidden" autoComplete="username" value={session.person?.login ?? ''} readOnly />
        <LineField
          label={`Your new password, at least ${LEAST} letters`}
          type="password"
          autoComplete="new-password"
          maxLength={200}
          wrong={formState.errors.next && `It needs at least ${LEAST} letters.`}
          {...register('next', { minLength: LEAST, required: true })}
        />
        <LineField
          label="The same once more"
          type="password"
          autoComplete="new-password"
          maxLength={200}
          wrong={formState.errors.again && 'The two are not the same. Type both again.'}
          {...register('again', { validate: (again) => again === getValues('next') })}
        />
        {change.error && (
          <p role="alert" className="text-caution">
            {sentenceOf(change.error)}
          </p>
        )}
        <div className="flex flex-wrap gap-3">
          <button type="submit" className="act" disabled={change.isPending}>
            Save and go on
          </button>
          <button type="button" className="quiet" onClick={() => leave()}>
            Sign out
          </button>
        </div>
      </form>
    </main>
  );
}
