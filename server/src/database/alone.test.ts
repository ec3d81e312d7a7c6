import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { smallClass, testServer } from '../testing/house.ts';
import { PersonTable } from './entities/index.ts';
import { update } from './write.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

describe('a statement of its own', () => {
  test('that gives way to a transaction is tried again, and nobody hears of it', async () => {
    const { students } = await smallClass(running, ['ada', 'ben']);
    const { db } = running.house;
    const [first, second] = students.map((s) => s.id as string).sort() as [string, string];
    let gaveWay = 0;
    for (let round = 0; round < 10; round++) {
      const runner = db.createQueryRunner();
      await runner.startTransaction();
      // It has done more already, so that it is the other that gives way.
      for (let i = 0; i < 20; i++)
        await runner.query('UPDATE person SET given = ? WHERE id = ?', [`held ${i}`, second]);
      // Both rows at once, in the order of their ids: it holds the first when it comes to the second.
      const alone = db.manager
        .createQueryBuilder()
        .update(PersonTable)
        .set({ family: `round ${round}` })
        .where('id IN (:...ids)', { ids: [first, second] })
        .execute();
      await new Promise((r) => setTimeout(r, 30));
      const held = runner.query('UPDATE person SET given = ? WHERE id = ?', ['both', first]).then(
        () => runner.commitTransaction(),
        async () => {
          gaveWay++;
          await runner.rollbackTransaction();
        },
      );
      await Promise.all([alone, held]);
      await runner.release();
      const rows = await db.query('SELECT family FROM person WHERE id IN (?)', [[first, second]]);
      expect(rows.map((r: { family: string }) => r.family)).toEqual(Array(2).fill(`round ${round}`));
    }
    // Else it was never the statement that had to give way.
    expect(gaveWay).toBeLessThan(10);
  });

  test('that is wrong is not tried again and again', async () => {
    const { students } = await smallClass(running, ['ada', 'ben']);
    await expect(
      update(running.house.db.manager, PersonTable, { id: students[0]!.id }, { login: students[1]!.login }),
    ).rejects.toThrow(/Duplicate/);
  });
});
