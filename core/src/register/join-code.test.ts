import fc from 'fast-check';
import { expect, test } from 'vitest';
import { JoinCode, joinCodeOf, joinCodeShown, readJoinCode } from './join-code.ts';

test('is read however it is typed', () => {
  for (const typed of ['K7M4QX', 'k7m4qx', ' k7m 4qx ', 'K7M-4QX'])
    expect(readJoinCode(typed)).toBe('K7M4QX');
});

test('what has a letter too many, too few, or one that could be another, is none', () => {
  for (const typed of ['', 'K7M4Q', 'K7M4QXX', 'K7M4Q0', 'K7M4QO', 'K7M4Q1', 'K7M4QI', 'K7M4QÄ'])
    expect(readJoinCode(typed)).toBeNull();
});

test('of whatever bytes it is made, it is one, and is read back from how it is shown', () => {
  fc.assert(
    fc.property(fc.uint8Array({ minLength: 6, maxLength: 12 }), (bytes) => {
      const code = joinCodeOf(bytes);
      expect(JoinCode.safeParse(code).success).toBe(true);
      expect(readJoinCode(joinCodeShown(code))).toBe(code);
    }),
  );
});
