import type { Credentials } from '@jotmark/core';

/** A login and a first password, shown once, to be handed over. */
export function OneSheet({ made }: { made: Credentials }) {
  return (
    <div role="status" className="mt-4 rounded-lg border border-line-strong bg-paper p-4">
      <p>
        Give these to {`${made.given} ${made.family}`.trim()} by hand. The password is shown only now; they
        choose their own when they sign in.
      </p>
      <dl className="mt-2 grid grid-cols-[5rem_1fr]">
        <dt className="text-soft">Login</dt>
        <dd className="font-mono">{made.login}</dd>
        <dt className="text-soft">Password</dt>
        <dd className="font-mono">{made.password}</dd>
      </dl>
    </div>
  );
}
