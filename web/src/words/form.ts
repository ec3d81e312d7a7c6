/** What is selected in a field, and its words. */
export interface Selected {
  readonly words: string;
  readonly start: number;
  readonly end: number;
}

/** Signs put round what is selected; round what has them already they go. Nothing selected: the cursor stands between them. */
export function wrapped({ words, start, end }: Selected, sign: string): Selected {
  const inside = words.slice(start, end);
  const before = words.slice(0, start);
  const after = words.slice(end);
  if (inside && before.endsWith(sign) && after.startsWith(sign))
    return {
      words: before.slice(0, -sign.length) + inside + after.slice(sign.length),
      start: start - sign.length,
      end: end - sign.length,
    };
  return {
    words: `${before}${sign}${inside}${sign}${after}`,
    start: start + sign.length,
    end: end + sign.length,
  };
}

/** The selected lines become a list, or no list any more. */
export function listed({ words, start, end }: Selected): Selected {
  const from = words.lastIndexOf('\n', start - 1) + 1;
  const found = words.indexOf('\n', end);
  const to = found < 0 ? words.length : found;
  const lines = words.slice(from, to).split('\n');
  const all = lines.every((l) => l.startsWith('- '));
  const now = lines.map((l) => (all ? l.slice(2) : l.startsWith('- ') ? l : `- ${l}`)).join('\n');
  const place = from + now.length;
  return { words: words.slice(0, from) + now + words.slice(to), start: place, end: place };
}

/** A new line in a list is the next of the list; an empty one ends it. Null: no list. */
export function nextItem({ words, start, end }: Selected): Selected | null {
  const from = words.lastIndexOf('\n', start - 1) + 1;
  const item = /^(\s*)(?:([-•])|(\d{1,3})([.)])) (.*)$/.exec(words.slice(from, start));
  if (!item) return null;
  const [, space, dash, number, mark, said] = item;
  if (said!.trim() === '') return { words: words.slice(0, from) + words.slice(end), start: from, end: from };
  const sign = `\n${space}${dash ?? `${Number(number) + 1}${mark}`} `;
  const place = start + sign.length;
  return { words: words.slice(0, start) + sign + words.slice(end), start: place, end: place };
}

/** Words in the place of what is selected; the cursor stands behind them. */
export function putIn({ words, start, end }: Selected, said: string): Selected {
  const place = start + said.length;
  return { words: words.slice(0, start) + said + words.slice(end), start: place, end: place };
}

interface Key {
  readonly key: string;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
  readonly shiftKey: boolean;
}

/** Whether a key sends what was typed, as everywhere: Enter with Ctrl or the command key. */
export const sends = (e: Pick<Key, 'key' | 'ctrlKey' | 'metaKey'>): boolean =>
  e.key === 'Enter' && (e.ctrlKey || e.metaKey);

/** What a key does to the form of words while they are typed: bold, italic, the next item of a list. Null: nothing. */
export function formedBy(e: Key, now: () => Selected): Selected | null {
  const mod = (e.ctrlKey || e.metaKey) && !e.altKey && !e.shiftKey;
  if (mod && e.key === 'b') return wrapped(now(), '**');
  if (mod && e.key === 'i') return wrapped(now(), '*');
  return e.key === 'Enter' && !e.ctrlKey && !e.metaKey && !e.shiftKey ? nextItem(now()) : null;
}

/** The words of a field and what is selected of them. */
export const selectedIn = (el: HTMLTextAreaElement): Selected => ({
  words: el.value,
  start: el.selectionStart,
  end: el.selectionEnd,
});

/** Words that were said, where the cursor is: parted by spaces from what stands before and behind. */
export function saidAt({ words, start, end }: Selected, said: string): Selected {
  const before = words.slice(0, start);
  const behind = words.slice(end);
  const piece = `${/(^|\s)$/.test(before) ? '' : ' '}${said}${/^(\s|$)/.test(behind) ? '' : ' '}`;
  const at = start + piece.length;
  return { words: before + piece + behind, start: at, end: at };
}
