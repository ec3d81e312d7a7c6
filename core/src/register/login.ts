/** A roster longer than this, in characters, is not even read. */
export const MOST_ROSTER = 1_000_000;

/** Whether one can sign in by this name: 2 to 60 small letters, digits, dots, dashes. */
export function isLogin(login: string): boolean {
  return /^[a-z0-9][a-z0-9._-]{1,59}$/.test(login);
}
