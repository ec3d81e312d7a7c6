import { expect, test } from 'vitest';
import { tidyName } from './file-name.ts';

test('a name that is too long keeps its ending, and is never longer than it may be', () => {
  const long = tidyName(`${'a very long name '.repeat(20)}.docx`);
  expect(long.length).toBeLessThanOrEqual(200);
  expect(long).toMatch(/^a very long name .*….docx$/);
  expect(tidyName('x'.repeat(300))).toHaveLength(200);
  expect(tidyName(`${'🦉'.repeat(150)}.pdf`)).toMatch(/^🦉+….pdf$/u);
});

test('what is short enough stays; what is no name becomes one', () => {
  expect(tidyName('my work.pdf')).toBe('my work.pdf');
  expect(tidyName('../../etc/passwd')).toBe('passwd');
  expect(tidyName('a\u202efdp.exe')).toBe('afdp.exe');
  for (const none of ['', '...', '   ']) expect(tidyName(none)).toBe('work.pdf');
});
