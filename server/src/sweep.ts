import { sweepTakenAway } from './document/sweep-away.ts';
import type { House } from './house.ts';
import { sweepAttempts } from './people/attempts.ts';
import { sweepDevices } from './people/known-devices.ts';
import { sweepSessions } from './people/session.ts';

const SWEEP_MS = 10 * 60_000;
const swept = new WeakMap<House, number>();

/** What is over by now goes: wrong passwords that are forgotten, sessions, browsers nobody came back with. Now and then, by each server. */
export async function sweep(house: House): Promise<void> {
  const now = house.now();
  if (now - (swept.get(house) ?? 0) < SWEEP_MS) return;
  swept.set(house, now);
  await sweepAttempts(house);
  await sweepSessions(house);
  await sweepDevices(house);
  await sweepTakenAway(house);
}
