/** How wrong passwords are held up: so many are free, after that each doubles the wait, up to a most in seconds. */
export interface HoldUp {
  readonly free: number;
  readonly most: number;
}

/** One login from one address: a person who mistypes, or somebody who guesses at one account. */
export const PAIR: HoldUp = { free: 5, most: 900 };
/** One login over all addresses: guessing from many machines. Short at the most, so that nobody locks a person out by it. */
export const LOGIN: HoldUp = { free: 30, most: 30 };
/** One address over all logins: a whole school sits behind one. Short at the most for the same reason. */
export const ADDRESS: HoldUp = { free: 200, most: 5 };

/** After so long without another wrong password they are forgotten, in milliseconds. */
export const FORGOTTEN_MS = 60 * 60_000;

/** How long to wait after the `wrong`th wrong password before the next may be tried, in milliseconds. */
export function waitAfter(wrong: number, { free, most }: HoldUp): number {
  if (wrong <= free) return 0;
  // Beyond 2³⁰ seconds nothing is to be told apart.
  return Math.min(2 ** Math.min(wrong - free, 30), most) * 1000;
}
