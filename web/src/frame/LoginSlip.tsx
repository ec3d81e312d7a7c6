/** A login and a first password as they are handed over, on a slip or on the screen. */
export function LoginSlip({ login, password }: { login: string; password: string | null }) {
  return (
    <dl className="mt-1 grid grid-cols-[5rem_1fr]">
      <dt className="text-soft">Login</dt>
      <dd className="font-mono">{login}</dd>
      <dt className="text-soft">Password</dt>
      <dd className="font-mono">{password}</dd>
    </dl>
  );
}
