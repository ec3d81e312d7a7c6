import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';

describe('which way the imports go', () => {
  const ROOT = new URL('../../..', import.meta.url).pathname;
  const sources = (folder: string): string[] =>
    readdirSync(join(ROOT, folder), { recursive: true, encoding: 'utf8' })
      .filter((f) => /\.tsx?$/.test(f))
      .map((f) => join(ROOT, folder, f));
  const importsOf = (file: string) =>
    [...readFileSync(file, 'utf8').matchAll(/(?:from|import\()\s*'([^']+)'/g)].map((m) => m[1]!);

  test('core imports nothing of ours and nothing of Node or the browser', () => {
    for (const file of sources('core/src').filter((f) => !/\.test\.ts$|arbitrary\.ts$/.test(f))) {
      for (const from of importsOf(file))
        expect(from, file).toMatch(/^\.|^zod$|^perfect-freehand$|^papaparse$|^@date-fns\/tz$/);
      const code = readFileSync(file, 'utf8').replace(/\/\*[\s\S]*?\*\/|\/\/.*/g, '');
      expect(code, file).not.toMatch(
        /\bDate\.now\(|\bMath\.random\(|\bdocument\.|\bwindow\b|\bprocess\.|\bfetch\(/,
      );
    }
  });

  test('web and server know core and not each other; nobody knows the school', () => {
    for (const folder of ['web', 'server'])
      for (const file of sources(`${folder}/src`))
        for (const from of importsOf(file).filter((f) => f.startsWith('@jotmark/')))
          expect(from, file).toBe('@jotmark/core');
  });
});
