import { expect, test } from 'vitest';
import { deviceWords } from './device.ts';

test('a browser is told in words', () => {
  const says = (ua: string) => deviceWords(ua);
  expect(says('Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0')).toBe(
    'Firefox on Windows',
  );
  expect(
    says(
      'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) HeadlessChrome/150.0 Chrome/150.0 Safari/537.36',
    ),
  ).toBe('Chrome or Chromium on Linux');
  expect(
    says(
      'Mozilla/5.0 (iPad; CPU OS 17_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.0 Mobile/15E148 Safari/604.1',
    ),
  ).toBe('Safari on an iPad');
  expect(says('')).toBe('');
  expect(says('curl/8.0')).toBe('');
});
