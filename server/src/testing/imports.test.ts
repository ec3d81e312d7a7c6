import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { circlesIn, floorsOf, importsOf, ROOT, sourcesIn, wrongArrows } from './floors.ts';

/** Rooms of which the table of floors says something. */
const HOUSES = ['server/src', 'web/src'];

describe('which way the imports go', () => {
  test('core imports nothing of ours and nothing of Node or the browser', () => {
    for (const file of sourcesIn('core/src').filter((f) => !/\.test\.ts$|arbitrary\.ts$/.test(f))) {
      for (const from of importsOf(file))
        expect(from, file).toMatch(
          /^\.|^zod$|^perfect-freehand$|^papaparse$|^@date-fns\/tz$|^mathjax-full\/|^@noble\/hashes\/|^@scure\/base$/,
        );
      const code = readFileSync(join(ROOT, file), 'utf8').replace(/\/\*[\s\S]*?\*\/|\/\/.*/g, '');
      expect(code, file).not.toMatch(
        /\bDate\.now\(|\bMath\.random\(|\bdocument\.|\bwindow\b|\bprocess\.|\bfetch\(|\blocaleCompare\(/,
      );
    }
  });

  test('web and server know core and not each other; nobody knows the school', () => {
    for (const folder of ['web', 'server'])
      for (const file of sourcesIn(`${folder}/src`))
        for (const from of importsOf(file).filter((f) => f.startsWith('@jotmark/')))
          expect(from, file).toMatch(/^@jotmark\/core(\/formula)?$/);
  });

  test.each(HOUSES)(
    '%s: from floors below, never from beside or above, but for what the table says',
    (house) => {
      expect(wrongArrows(house)).toEqual([]);
      for (const { why } of floorsOf(house).exceptions) expect(why.length).toBeGreaterThan(20);
    },
  );

  test.each([...HOUSES, 'core/src'])('%s: no circle', (house) => {
    expect(circlesIn(house)).toEqual([]);
  });

  test('uploaded bytes are opened in the child only: what opens them is imported by nobody else', () => {
    const opens = /^(sharp|yauzl|@cantoo\/pdf-lib|@embedpdf\/pdfium)$/;
    for (const file of sourcesIn('server/src').filter(
      (f) => !/\.test\.ts$|\/(pdf|office|opening|testing)\//.test(f),
    ))
      expect(
        importsOf(file).filter((f) => opens.test(f)),
        file,
      ).toEqual([]);
  });

  test('SQL in words is the measured exception: at most fifty-one statements, each with its reason beside it', () => {
    const raw = sourcesIn('server/src').filter((f) => !/\.test\.ts$|\/(migrations|testing)\//.test(f));
    const statements = raw.flatMap((file) => {
      const code = readFileSync(join(ROOT, file), 'utf8');
      const count = [...code.matchAll(/\.query\(|\bsql:\s*['`]/g)].length;
      // The batch itself says nothing; who sends through it says why.
      if (count && !file.includes('/database/')) expect(code, file).toMatch(/\bRaw: |in the same packet/);
      return Array(count).fill(file) as string[];
    });
    expect(statements.length).toBeLessThanOrEqual(51);
  });
});
