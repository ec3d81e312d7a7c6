import type { OutOrder, Person } from '@jotmark/core';
import { orderOut, type Running } from '@jotmark/server';
import { type Figure, median, timed } from './figures.ts';
import { ownProcess } from './own-process.ts';
import { benchClass } from './school.ts';

const COPIES = 24;

/** Copies written as PDFs with their cover sheets by one worker and by two: what they cost is in processes of their own, so two are nearly twice as fast on two cores. */
export async function outFigures(running: Running): Promise<Figure[]> {
  const { house } = running;
  const { login, copies } = await benchClass(running, COPIES, 150);
  const [row] = (await house.db.query('SELECT id, role, login, given, family FROM person WHERE login = ?', [
    login,
  ])) as Person[];
  const all = async (): Promise<void> => {
    const ids: string[] = [];
    for (const { handInId } of copies) {
      const order: OutOrder = { what: 'copy', handInId, as: 'print-beside' };
      ids.push(await orderOut(house, row!, order));
    }
    for (;;) {
      const [{ n }] = (await house.db.query(
        `SELECT COUNT(*) AS n FROM job WHERE id IN (?) AND state NOT IN ('done', 'failed')`,
        [ids],
      )) as [{ n: string }];
      if (Number(n) === 0) break;
      await new Promise((r) => setTimeout(r, 20));
    }
    const [{ n }] = (await house.db.query(
      `SELECT COUNT(*) AS n FROM job WHERE id IN (?) AND state = 'failed'`,
      [ids],
    )) as [{ n: string }];
    if (Number(n) > 0) throw new Error(`${n} of ${ids.length} were not written`);
  };
  await all();
  const one = median([await timed(all), await timed(all), await timed(all)]);
  // As it is really run: a second server beside the first. In one process the two would share one thread.
  const other = await ownProcess(running, { JOTMARK_WORKERS: '1' });
  await all();
  const two = median([await timed(all), await timed(all), await timed(all)]);
  await other.stop();
  return [
    {
      what: `${COPIES} copies as PDF by two workers`,
      ours: two,
      baseline: one,
      against: 'by one',
      // The database and what draws pages work beside a worker: one uses about 1.4 of two cores, so that no more than 0.7 can be had on two.
      limit: 0.8,
    },
  ];
}
