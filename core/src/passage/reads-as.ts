/** Signs that symbol fonts keep where no letters are, by what they look like. */
const SYMBOLS: Readonly<Record<number, string>> = {
  61623: '•',
  61607: '▪',
  61656: '➢',
  61664: '→',
  61692: '✓',
  61558: '❖',
  61694: '☑',
  61608: '☐',
};

/** What a character (its code point) reads as; null: nothing that can be read, as a symbol font's private sign is in any other font. */
export function readsAs(code: number): string | null {
  if (code <= 32 || code === 0xfffe) return null;
  if (code >= 0xe000 && code <= 0xf8ff) return SYMBOLS[code] ?? null;
  return String.fromCodePoint(code);
}
