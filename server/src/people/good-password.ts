import { dictionary } from '@zxcvbn-ts/language-common';

/** So many of the commonest passwords are refused, whatever their length. */
const COMMONEST = 10_000;
const common = new Set((dictionary['passwords-common'] as readonly string[]).slice(0, COMMONEST));

export const LEAST_PASSWORD = 10;

/** Why a password is none to be taken; null where it is good: long enough, not what one signs in with, not what everybody tries first. */
export function troubleWith(password: string, login: string): 'short' | 'login' | 'common' | null {
  const letters = [...password].length;
  if (letters < LEAST_PASSWORD) return 'short';
  const small = password.toLowerCase();
  if (small.includes(login.toLowerCase()) && letters - login.length < 6) return 'login';
  // One letter or digit over and over, too.
  return common.has(small) || new Set(small).size <= 2 ? 'common' : null;
}
