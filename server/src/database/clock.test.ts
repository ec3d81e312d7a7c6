import { afterEach, expect, test, vi } from 'vitest';
import { freshDatabase } from '../testing/house.ts';
import { databaseClock, databaseNow } from './clock.ts';
import { openDatabase } from './connect.ts';

afterEach(() => vi.useRealTimers());

test('a server whose own clock is wrong tells the database’s time', async () => {
  const db = await openDatabase(await freshDatabase(), { migrate: false });
  const real = Date.now();
  vi.useFakeTimers({ now: real - 3_600_000, toFake: ['Date'] });
  const clock = await databaseClock(db);
  expect(Math.abs(clock.now() - (await databaseNow(db)))).toBeLessThan(2000);
  expect(clock.now() - Date.now()).toBeGreaterThan(3_590_000);
  clock.stop();
  await db.destroy();
});
