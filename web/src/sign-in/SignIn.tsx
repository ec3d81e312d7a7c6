import type { Role } from '@jotmark/core';
import { useState } from 'react';
import { Navigate, useLocation, useNavigate } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { hasLocked } from '../frame/locked.ts';
import { useHere } from '../frame/session.tsx';
import { useTitle } from '../frame/useTitle.ts';
import { Emblem } from '../look/glyphs.tsx';

/** Back to where one was sent here from, if it is for this role; who signs in after somebody else begins at the first page. */
function placeFor(role: Role | undefined, from: string): string {
  return from.startsWith('/work/') === (role === 'student') ? from : '/';
}

/** The code is typed next, without reaching for the mouse. */
const focusOnce = (field: HTMLInputElement | null) => field?.focus();

/** Who comes: anyone, first thing in the evening. They type two words, or in the demo click a name. */
export function SignIn() {
  const { session, enter } = useHere();
  const navigate = useNavigate();
  const location = useLocation();
  const from = (location.state as { from?: string } | null)?.from ?? '/';
  const leftOpen = new URLSearchParams(location.search).has('open');
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  useTitle(['Sign in']);

  /** The password was right, and a code is wanted as well. */
  const [wantsCode, setWantsCode] = useState(false);
  const signIn = async (login: string, password: string, code?: string) => {
    setBusy(true);
    setTrouble(null);
    try {
      const next = await call('signIn', { body: { login, password, ...(code && { code }) } });
      await enter(next);
      navigate(placeFor(next.person?.role, from), { replace: true });
    } catch (error) {
      if (error instanceof CallFailed && error.code === 'second-step') setWantsCode(true);
      setTrouble(sentenceOf(error));
      setBusy(false);
    }
  };

  if (session.person && !busy) return <Navigate to="/" replace />;
  return (
    <main className="mx-auto flex min-h-full max-w-4xl flex-wrap content-center items-center justify-center gap-14 p-8">
      <section className="w-80">
        <div className="flex items-center gap-3">
          <Emblem />
          <h1 className="text-2xl font-bold">Jotmark</h1>
        </div>
        <p className="mt-1 text-soft">{session.school.name}</p>
        <form
          className="mt-6 space-y-4"
          onSubmit={(e) => {
            e.preventDefault();
            const data = new FormData(e.currentTarget);
            signIn(
              String(data.get('login')),
              String(data.get('password')),
              wantsCode ? String(data.get('code')).trim() : undefined,
            );
          }}
        >
          <label className="block">
            <span className="mb-1 block text-sm text-soft">Login</span>
            <input name="login" className="field" autoComplete="username" required maxLength={100} />
          </label>
          <label className="block">
            <span className="mb-1 block text-sm text-soft">Password</span>
            <input
              name="password"
              type="password"
              className="field"
              autoComplete="current-password"
              required
              maxLength={200}
            />
          </label>
          {hasLocked() && (
            <p className="text-sm text-soft" role="status">
              Somebody has left work here that was not sent yet. It is locked; it is sent when they sign in
              here again.
            </p>
          )}
          {leftOpen && (
            <p className="text-caution" role="alert">
              Work of who was here last was not sent yet and lies on this device. It could not be locked,
              since this page did not come over a safe connection (https). Sign in again before you leave the
              device to others.
            </p>
          )}
          {wantsCode && (
            <label className="block">
              <span className="mb-1 block text-sm text-soft">Code from your app</span>
              <input
                name="code"
                className="field"
                inputMode="numeric"
                autoComplete="one-time-code"
                pattern="\s*\d{6}\s*"
                required
                ref={focusOnce}
              />
            </label>
          )}
          {trouble && (
            <p role="alert" className="text-caution">
              {trouble}
            </p>
          )}
          <button type="submit" className="act w-full" disabled={busy}>
            Sign in
          </button>
        </form>
      </section>
      {session.demo && session.demo.length > 0 && (
        <section aria-labelledby="demo" className="w-80">
          <h2 id="demo" className="font-bold">
            Look around as …
          </h2>
          <p className="text-sm text-soft">Made-up people of a made-up school.</p>
          <ul className="mt-3 space-y-2">
            {session.demo.map((p) => (
              <li key={p.login}>
                <button
                  type="button"
                  className="quiet flex w-full items-baseline gap-3 text-left"
                  disabled={busy}
                  onClick={() => signIn(p.login, p.password)}
                >
                  <span>{p.name}</span>
                  <span className="ml-auto text-sm font-normal text-soft">{p.about}</span>
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}
