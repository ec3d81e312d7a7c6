import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeAll, describe, expect, test } from 'vitest';
import { Died, Failed, FULL } from '../programs/failed.ts';
import { plainPdf } from '../testing/pdfs.ts';
import { Opener } from './opener.ts';
import type { Task } from './task.ts';

const folder = mkdtempSync(join(tmpdir(), 'jotmark-test-'));
const file = join(folder, 'in.pdf');
beforeAll(async () => writeFileSync(file, await plainPdf(['words'], 3)));

const openers: Opener[] = [];
const opener = (program?: string) => {
  const made = new Opener(program);
  openers.push(made);
  return made;
};
afterEach(() => {
  for (const o of openers.splice(0)) o.close();
});

const judge = (of = file): Task => ({
  op: 'judge',
  file: of,
  name: 'in.pdf',
  mended: `${of}.mended`,
  budget: FULL,
});
const read = (of = file): Task => ({
  op: 'read',
  file: of,
  out: `${of}.out`,
  picture: `${of}.jpg`,
  text: `${of}.json`,
  shapes: null,
});
/** A program in the place of ours. */
const program = (code: string) => {
  const path = join(folder, `child${openers.length}${Math.random()}.mjs`);
  writeFileSync(path, code);
  return path;
};

describe('the process that opens files', () => {
  test('judges, again and again in one process', async () => {
    const o = opener();
    for (let i = 0; i < 3; i++)
      expect(await o.run(judge())).toMatchObject({
        judged: { pages: 3, type: 'application/pdf', mended: false },
      });
    expect(o.busy).toEqual([]);
  });

  test('is stopped for the processor time it takes, and the next file gets a new one', async () => {
    const o = opener(
      program(`process.on('message', () => { for (;;) {} }); process.send({ kind: 'ready' });`),
    );
    await expect(o.run(judge(), { ...FULL, cpuMs: 400 })).rejects.toMatchObject({
      reason: 'too-slow',
      message: expect.stringContaining('processor time'),
    });
    expect(await opener().run(judge())).toMatchObject({ judged: { pages: 3 } });
  });

  test('is not stopped for the time that passes while it waits for the processor, but one that hangs is', async () => {
    const patient = program(
      `process.on('message', () => setTimeout(() => process.send({ kind: 'done', result: 'late' }), 600)); process.send({ kind: 'ready' });`,
    );
    expect(await opener(patient).run(judge(), { ...FULL, cpuMs: 400 })).toBe('late');
    const hangs = program(`process.on('message', () => {}); process.send({ kind: 'ready' });`);
    await expect(opener(hangs).run(judge(), { ...FULL, cpuMs: 60 })).rejects.toMatchObject({
      reason: 'too-slow',
    });
  });

  test('is not stopped for what starting costs, in processor time or by the clock, which is not the file’s', async () => {
    const slow = program(
      `setTimeout(() => {
        process.on('message', () => process.send({ kind: 'done', result: 'woken' })); process.send({ kind: 'ready' });
      }, 3000);`,
    );
    expect(await opener(slow).run(judge(), { ...FULL, cpuMs: 200 })).toBe('woken');
    const heavy = program(
      `for (const until = Date.now() + 3000; Date.now() < until; );
      process.on('message', () => process.send({ kind: 'done', result: 'at last' })); process.send({ kind: 'ready' });`,
    );
    expect(await opener(heavy).run(judge(), { ...FULL, cpuMs: 1000 })).toBe('at last');
  });

  test('is stopped when it grows too big', async () => {
    await expect(opener().run(read(), { ...FULL, bytes: 1024 })).rejects.toMatchObject({ reason: 'too-big' });
  });

  test('says that a file is broken', async () => {
    writeFileSync(`${file}.bad`, 'nothing like a PDF');
    const failed = opener().run(read(`${file}.bad`));
    await expect(failed).rejects.toBeInstanceOf(Failed);
    await expect(failed).rejects.toMatchObject({ reason: 'broken' });
  });

  test('that dies, is killed, closes its pipe or cannot be started is told of as such, and takes nobody with it', async () => {
    for (const code of [
      `process.exit(3);`,
      `process.on('message', () => process.kill(process.pid, 'SIGKILL'));`,
      `process.disconnect(); setTimeout(() => {}, 50);`,
      `this is no program`,
    ])
      await expect(opener(program(code)).run(judge()), code).rejects.toBeInstanceOf(Died);
    // Written to after its pipe was closed, again and again.
    const o = opener(
      program(
        `process.on('message', () => process.disconnect()); process.on('disconnect', () => {}); process.send({ kind: 'ready' });`,
      ),
    );
    await Promise.allSettled(Array.from({ length: 5 }, () => o.run(judge(), { ...FULL, cpuMs: 50 })));
    expect(await opener().run(judge())).toMatchObject({ judged: { pages: 3 } });
  });
});
