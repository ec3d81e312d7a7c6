import { randomInt } from 'node:crypto';

/** Syllables without letters that are taken for others in print (no l, no q, no x). */
const STARTS = ['b', 'd', 'f', 'g', 'h', 'j', 'k', 'm', 'n', 'p', 'r', 's', 't', 'v', 'w', 'z'];
const VOWELS = ['a', 'e', 'i', 'o', 'u'];

/** A first password that can be read out and typed: three made-up words of two syllables and two digits, about 48 bits. */
export function firstPassword(): string {
  const syllable = () => STARTS[randomInt(STARTS.length)]! + VOWELS[randomInt(VOWELS.length)]!;
  const word = () => syllable() + syllable();
  return `${word()}-${word()}-${word()}-${randomInt(10, 100)}`;
}
