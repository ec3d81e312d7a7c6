import type { FieldErrors, UseFormRegister } from 'react-hook-form';
import { LineField, trimmed } from '../frame/fields.tsx';

interface Named {
  given: string;
  family: string;
  login: string;
}

/** What an account is called, and how its owner signs in. */
export function NameFields<V extends Named>({
  register: ofForm,
  errors: ofAll,
}: {
  register: UseFormRegister<V>;
  errors: FieldErrors<V>;
}) {
  // Whatever else the form has, it has these.
  const register = ofForm as unknown as UseFormRegister<Named>;
  const errors = ofAll as FieldErrors<Named>;
  return (
    <>
      <LineField
        label="Given name"
        box="min-w-40 flex-1"
        wrong={errors.given && 'A given name, please.'}
        {...register('given', trimmed)}
      />
      <LineField label="Family name" box="min-w-40 flex-1" {...register('family', trimmed)} />
      <LineField
        label="Login"
        box="min-w-40 flex-1"
        autoComplete="off"
        wrong={errors.login && 'Small letters, digits, dots and dashes, at least 2.'}
        {...register('login', trimmed)}
      />
    </>
  );
}
