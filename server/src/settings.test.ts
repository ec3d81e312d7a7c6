import { describe, expect, test } from 'vitest';
import { readSettings } from './settings.ts';

describe('settings', () => {
  test('need only the database', () => {
    expect(readSettings({ DATABASE_URL: 'mysql://a:b@127.0.0.1:3306/jotmark' })).toMatchObject({
      host: '127.0.0.1',
      port: 4270,
      webDir: null,
      standInDir: null,
      demo: false,
      workers: 1,
      secureCookies: false,
      school: { timeZone: 'Europe/London' },
    });
  });

  test.each([
    [{}, 'DATABASE_URL'],
    [{ DATABASE_URL: 'postgres://x' }, 'DATABASE_URL'],
    [{ DATABASE_URL: 'mysql://a@b/c', PORT: 'ninety' }, 'PORT'],
    [{ DATABASE_URL: 'mysql://a@b/c', TIME_ZONE: 'Hollin/Island' }, 'TIME_ZONE: not a time zone'],
    [{ DATABASE_URL: 'mysql://a@b/c', JOTMARK_WORKERS: '-1' }, 'JOTMARK_WORKERS'],
  ])('%o is refused by name', (env, named) => {
    expect(() => readSettings(env as Record<string, string>)).toThrow(named);
  });

  test('the demo is switched on by a word, not by being mentioned', () => {
    const of = (JOTMARK_DEMO: string) => readSettings({ DATABASE_URL: 'mysql://a@b/c', JOTMARK_DEMO }).demo;
    expect([of('1'), of('true'), of('0'), of('false')]).toEqual([true, true, false, false]);
  });
});
