import type { Credentials } from '@jotmark/core';
import { LoginSlip } from '../frame/LoginSlip.tsx';

/** A login and a first password, shown once, to be handed over. */
export function OneSheet({ made }: { made: Credentials }) {
  return (
    <div role="status" className="mt-4 rounded-lg border border-line-strong bg-paper p-4">
      <p>
        Give these to {`${made.given} ${made.family}`.trim()} by hand. The password is shown only now; they
        choose their own when they sign in.
      </p>
      <LoginSlip login={made.login} password={made.password} />
    </div>
  );
}
