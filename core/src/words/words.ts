import { DocumentId } from '../ids/id.ts';

/**
 * Words with a light form, as teachers and students type them: **bold**, *italic*, lists with a dash or a number before each line, links that have a
 * title, [like this](https://…), and formulas between dollar signs. They are kept as they were typed; nothing in them is ever taken as HTML.
 */
export type WordsPart =
  | { readonly as: 'text'; readonly text: string }
  | { readonly as: 'bold' | 'italic'; readonly parts: readonly WordsPart[] }
  | { readonly as: 'link'; readonly title: string; readonly href: string }
  | { readonly as: 'file'; readonly title: string; readonly document: DocumentId }
  | { readonly as: 'formula'; readonly tex: string };

export type WordsBlock =
  | { readonly as: 'line'; readonly parts: readonly WordsPart[] }
  | { readonly as: 'list'; readonly numbered: boolean; readonly items: readonly (readonly WordsPart[])[] };

/** What a link may lead to. Anything else stays words: scripts, files of the device, other programs. */
const ADDRESS = /^(?:https?:\/\/|mailto:)[^\s<>"]{1,1900}$/i;

/** A kept file of ours, as the address of a link. */
const FILE = 'document:';
/** How a file is written into words. */
export const fileLink = (title: string, document: DocumentId): string =>
  `[${title.replace(/[[\]()]/g, ' ').trim() || 'File'}](${FILE}${document})`;

/** Longer than this is no formula: two dollar signs that stand far apart are money. */
const MOST_FORMULA = 500;
const WORDISH = /[\p{L}\p{N}]/u;
const BARE = /^https?:\/\/[^\s<>"]+/i;

interface Read {
  readonly part: WordsPart;
  /** How many characters it takes. */
  readonly length: number;
}

/** The form of words, block by block. Never throws: what does not close stays as it was typed. */
export function readWords(text: string): WordsBlock[] {
  const out: WordsBlock[] = [];
  for (const line of text.split(/\r?\n/)) {
    // A list goes on by itself while it is written: who types the dash all the same means one.
    const item = /^\s*(?:([-•])(?:\s+[-•])*|(\d{1,3})[.)])\s+(\S.*)$/u.exec(line);
    if (!item) {
      out.push({ as: 'line', parts: partsOf(line, 0) });
      continue;
    }
    const numbered = item[2] !== undefined;
    const parts = partsOf(item[3]!, 0);
    const last = out.at(-1);
    // A list that begins with another number than 1 is most likely no list: “3. floor” stays as it was typed.
    if (last?.as === 'list' && last.numbered === numbered)
      out[out.length - 1] = { ...last, items: [...last.items, parts] };
    else if (!numbered || item[2] === '1') out.push({ as: 'list', numbered, items: [parts] });
    else out.push({ as: 'line', parts: partsOf(line, 0) });
  }
  return out;
}

/** Bold in italic in bold is enough. */
const DEEPEST = 3;

function partsOf(text: string, depth: number): WordsPart[] {
  const out: WordsPart[] = [];
  let plain = '';
  const flush = () => {
    if (plain) out.push({ as: 'text', text: plain });
    plain = '';
  };
  for (let i = 0; i < text.length; ) {
    const found = SPECIAL.test(text[i]!) ? partAt(text, i, depth) : null;
    if (!found) {
      plain += text[i++];
      continue;
    }
    flush();
    out.push(found.part);
    i += found.length;
  }
  flush();
  return out;
}

const SPECIAL = /[*[$hH]/;

function partAt(text: string, i: number, depth: number): Read | null {
  switch (text[i]) {
    case '*':
      return depth < DEEPEST ? strongAt(text, i, depth) : null;
    case '[':
      return linkAt(text, i);
    case '$': {
      const found = formulaAt(text, i);
      return found && { part: { as: 'formula', tex: found.tex }, length: found.length };
    }
    default:
      return addressAt(text, i);
  }
}

/** Stars stand right before and right after what they mean, and not within a word: 3*4*5 is a sum. */
function strongAt(text: string, i: number, depth: number): Read | null {
  const sign = text.startsWith('**', i) ? '**' : '*';
  const from = i + sign.length;
  if (WORDISH.test(text[i - 1] ?? ' ') || /[\s*]/.test(text[from] ?? ' ')) return null;
  for (let end = text.indexOf(sign, from); end >= 0; end = text.indexOf(sign, end + 1)) {
    const after = text[end + sign.length] ?? ' ';
    if (/\s/.test(text[end - 1]!) || WORDISH.test(after) || (sign === '*' && after === '*')) continue;
    const parts = partsOf(text.slice(from, end), depth + 1);
    return { part: { as: sign === '**' ? 'bold' : 'italic', parts }, length: end + sign.length - i };
  }
  return null;
}

function linkAt(text: string, i: number): Read | null {
  const found = /^\[([^[\]\n]{1,200})\]\(([^\s()]{1,1900}(?:\([^\s()]*\)[^\s()]*)*)\)/.exec(
    text.slice(i, i + 2200),
  );
  if (!found) return null;
  const [whole, title, href] = found as unknown as [string, string, string];
  if (href.startsWith(FILE)) {
    const id = DocumentId.safeParse(href.slice(FILE.length));
    return id.success ? { part: { as: 'file', title, document: id.data }, length: whole.length } : null;
  }
  return ADDRESS.test(href) && URL.canParse(href)
    ? { part: { as: 'link', title, href }, length: whole.length }
    : null;
}

/** The formula that begins here. Right after the first sign and right before the last stands something, and no digit follows: “from $5 to $7” is money. */
export function formulaAt(text: string, i: number): { readonly tex: string; readonly length: number } | null {
  if (/[\s$]/.test(text[i + 1] ?? ' ')) return null;
  const end = text.indexOf('$', i + 1);
  if (end < 0 || end - i > MOST_FORMULA || /\s/.test(text[end - 1]!) || /\d/.test(text[end + 1] ?? ''))
    return null;
  return { tex: text.slice(i + 1, end), length: end + 1 - i };
}

function addressAt(text: string, i: number): Read | null {
  if (WORDISH.test(text[i - 1] ?? ' ')) return null;
  // A sentence may end right after an address.
  const href = BARE.exec(text.slice(i, i + 1900))?.[0].replace(/[.,;:!?)\]'”]+$/u, '');
  return href && URL.canParse(href) ? { part: { as: 'link', title: href, href }, length: href.length } : null;
}

/** The words alone, without the signs of their form: for short looks, for lists and for readers that know no form. */
export const plainWords = (text: string): string =>
  SPECIAL.test(text)
    ? readWords(text)
        .flatMap((block) =>
          block.as === 'line'
            ? [plainParts(block.parts)]
            : block.items.map((item, i) => `${block.numbered ? `${i + 1}.` : '–'} ${plainParts(item)}`),
        )
        .join('\n')
    : text;

function plainParts(parts: readonly WordsPart[]): string {
  return parts
    .map((part): string => {
      switch (part.as) {
        case 'text':
          return part.text;
        case 'link':
          return part.title === part.href ? part.href : `${part.title} (${part.href})`;
        case 'file':
          return part.title;
        case 'formula':
          return part.tex;
        default:
          return plainParts(part.parts);
      }
    })
    .join('');
}

/** The files that words speak of, each once. */
export function filesIn(texts: Iterable<string>): DocumentId[] {
  const out = new Set<DocumentId>();
  const walk = (parts: readonly WordsPart[]): void => {
    for (const part of parts) {
      if (part.as === 'file') out.add(part.document);
      else if ('parts' in part) walk(part.parts);
    }
  };
  for (const text of texts) {
    if (!text.includes(FILE)) continue;
    for (const block of readWords(text)) (block.as === 'line' ? [block.parts] : block.items).forEach(walk);
  }
  return [...out];
}
