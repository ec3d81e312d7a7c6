import { BankShape, type PersonId } from '@jotmark/core';

const placeOf = (me: PersonId) => `jotmark.bank.${me}`;
/** More than this a browser may not take beside all else. */
const MOST = 2_000_000;

/** The bank as it was last read, so that it is at hand where there is no network; null where this browser keeps none. */
export function lastBank(me: PersonId): BankShape | null {
  try {
    const text = localStorage.getItem(placeOf(me));
    return text ? (BankShape.safeParse(JSON.parse(text)).data ?? null) : null;
  } catch {
    return null;
  }
}

export function rememberBank(me: PersonId, bank: BankShape): void {
  try {
    const text = JSON.stringify(bank);
    if (text.length <= MOST) localStorage.setItem(placeOf(me), text);
    else localStorage.removeItem(placeOf(me));
  } catch {
    // Full or forbidden: without a network there is no bank here.
  }
}
