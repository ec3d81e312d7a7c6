import { expect, test } from 'vitest';
import { troubleWith } from './good-password.ts';

test('a password is refused when it is short, one’s login or what everybody tries; a sentence is good', () => {
  for (const [password, trouble] of [
    ['ninechars', 'short'],
    ['ada.finch12', 'login'],
    ['Ada.Finch99', 'login'],
    ['Basketball', 'common'],
    ['1234567890', 'common'],
    ['aaaaaaaaaaaa', 'common'],
    ['a hill by the sea', null],
    ['ada.finch walks the hill', null],
    ['größer als das Meer', null],
  ] as const)
    expect([password, troubleWith(password, 'ada.finch')]).toEqual([password, trouble]);
});
