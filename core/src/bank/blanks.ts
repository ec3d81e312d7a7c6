/** What the blanks of a phrase stand for where a comment is written. */
export interface Blanks {
  /** The student's first name, as it is seen; null: it is for nobody, or for many. */
  readonly name: string | null;
  /** The words the comment is about; null: it is about none. */
  readonly words: string | null;
  /** The number of the question it stands at; null: at none. */
  readonly question: string | null;
}

const BLANK = /\[([^[\]\n]{1,60})\](?!\()/g;

const filled: Readonly<Record<string, (b: Blanks) => string | null>> = {
  name: (b) => b.name,
  words: (b) => (b.words === null ? null : `“${b.words}”`),
  question: (b) => b.question,
};

/**
 * The words of a phrase with its blanks filled: `[name]`, `[words]`, `[question]`. What is not known, and a blank of any other name, stays as it is, to be
 * filled by hand. A link's title is no blank.
 */
export const fillPhrase = (phrase: string, blanks: Blanks): string =>
  phrase.replace(BLANK, (blank, name: string) => filled[name]?.(blanks) ?? blank);

/** The first blank that is still to be filled: from where to where. Null: none is. */
export function openBlank(words: string): { readonly start: number; readonly end: number } | null {
  const found = new RegExp(BLANK.source).exec(words);
  return found && { start: found.index, end: found.index + found[0].length };
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/**
 * What a comment says once its phrase is another: what stood in its blanks stands in those of the same name. Null where the comment was changed by hand, or
 * where a blank of the new phrase has nothing to stand in it.
 */
export function refillPhrase(before: string, after: string, said: string): string | null {
  const names: string[] = [];
  let pattern = '';
  let at = 0;
  for (const found of before.matchAll(BLANK)) {
    pattern += `${escaped(before.slice(at, found.index))}(.*?)`;
    names.push(found[1]!);
    at = found.index + found[0].length;
  }
  const match = new RegExp(`^${pattern}${escaped(before.slice(at))}$`, 's').exec(said.trim());
  if (!match) return null;
  const stood = new Map(names.map((name, i) => [name, match[i + 1]!] as const));
  let whole = true;
  const now = after.replace(BLANK, (_, name: string) => {
    const there = stood.get(name);
    if (there === undefined) whole = false;
    return there ?? '';
  });
  return whole ? now : null;
}
