import { type ClassId, isLogin, type RegisterRow } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { LineField } from '../frame/fields.tsx';
import { toast } from '../frame/toast.ts';

interface Typed {
  readonly given: string;
  readonly family: string;
  readonly login: string;
}

/** A name that was spelled wrong, or a login that nobody can remember: corrected everywhere at once, the password stays. */
export function CorrectStudent({
  classId,
  student,
  onDone,
  onClose,
}: {
  classId: ClassId;
  student: RegisterRow;
  onDone(): void;
  onClose(): void;
}) {
  const { given, family, login, personId } = student;
  const { register, handleSubmit, formState } = useForm<Typed>({ defaultValues: { given, family, login } });
  const save = useMutation({
    mutationFn: (typed: Typed) =>
      call('correctStudent', {
        params: { classId, personId },
        body: { given: typed.given.trim(), family: typed.family.trim(), login: typed.login.trim() },
      }),
    onSuccess: (_, typed) => {
      toast(
        typed.login.trim() === login
          ? 'The name is corrected.'
          : `${typed.given.trim()} signs in as ${typed.login.trim()} from now on. The password stays.`,
      );
      onDone();
    },
  });
  const { errors } = formState;
  return (
    <DialogShell open title={`Correct ${`${given} ${family}`.trim()}`} onClose={onClose}>
      <form className="mt-3 space-y-3" onSubmit={handleSubmit((typed) => save.mutate(typed))}>
        <LineField
          label="Given name, or the one name there is"
          maxLength={100}
          wrong={errors.given && 'It needs a name.'}
          {...register('given', { validate: (v) => v.trim() !== '' && !/^\s*[=+@]/.test(v) })}
        />
        <LineField label="Family name, empty where there is none" maxLength={100} {...register('family')} />
        <LineField
          label="Login"
          maxLength={60}
          autoCapitalize="none"
          wrong={errors.login && 'Small letters, digits, dots and dashes, at least 2.'}
          {...register('login', { validate: (v) => isLogin(v.trim()) })}
        />
        <p className="text-sm text-soft">
          It changes in every class. What was handed back keeps the name that stood there.
        </p>
        {save.error && (
          <p role="alert" className="text-caution">
            {sentenceOf(save.error)}
          </p>
        )}
        <div className="flex flex-wrap gap-3">
          <button type="submit" className="act" disabled={save.isPending}>
            Save
          </button>
          <button type="button" className="quiet" onClick={onClose}>
            Cancel
          </button>
        </div>
      </form>
    </DialogShell>
  );
}
