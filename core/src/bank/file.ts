import Papa from 'papaparse';
import * as z from 'zod';
import { INK_NAMES, type InkColour } from '../pens/ink-colour.ts';
import { formatSigned, parseSigned } from '../points/points.ts';
import { shield, unshield } from '../table/shield.ts';
import { FavouriteKey, GroupName, MOST_PHRASES, PHRASE_LIMIT, type Phrase, PhraseSaid } from './phrase.ts';

/** No file of a bank is longer, in characters. */
export const BANK_FILE_LIMIT = 8 * 1024 * 1024;
const KIND = 'jotmark comment bank';

export type ReadBank =
  | {
      readonly ok: true;
      readonly phrases: readonly PhraseSaid[];
      /** Rows that say nothing, or that cannot be a phrase: by the line they stand in, counted from 1. */
      readonly odd: readonly { readonly line: number; readonly why: 'too-long' | 'not-a-phrase' }[];
    }
  | { readonly ok: false; readonly reason: 'too-large' | 'too-many' | 'not-a-bank' | 'newer' | 'empty' };

/** A whole bank, or a part of it, as a file for a colleague. */
export const writeBankFile = (phrases: readonly Phrase[]): string =>
  JSON.stringify({ kind: KIND, v: 1, phrases: phrases.map((p) => PhraseSaid.parse(p)) }, null, 1);

const COLUMNS = ['words', 'group', 'focus', 'points', 'ink', 'key'] as const;

/** The same as a table for spreadsheets. Read again it gives the same phrases, but for those written by hand: a table has no place for them. */
export const writeBankCsv = (phrases: readonly Phrase[]): string =>
  `\ufeff${Papa.unparse(
    {
      fields: [...COLUMNS],
      data: phrases
        .filter((p) => p.ink === null)
        .map((p) =>
          [
            p.words,
            p.group,
            p.focus ?? '',
            p.points === null ? '' : formatSigned(p.points),
            p.colour === null ? '' : INK_NAMES[p.colour],
            p.key ?? '',
          ].map(shield),
        ),
    },
    { newline: '\r\n' },
  )}\r\n`;

/** Reads what a colleague's bank was written to: the file of a bank, or a table with words and, if it says so in its first row, groups and the rest. */
export function readBank(text: string): ReadBank {
  if (text.length > BANK_FILE_LIMIT) return { ok: false, reason: 'too-large' };
  const bare = text.replace(/^\ufeff/, '');
  if (bare.trim() === '') return { ok: false, reason: 'empty' };
  return /^\s*[[{]/.test(bare) ? readFile(bare) : readTable(bare);
}

const Envelope = z.object({ kind: z.literal(KIND), v: z.int(), phrases: z.array(z.unknown()) });

function readFile(text: string): ReadBank {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    return { ok: false, reason: 'not-a-bank' };
  }
  const read = Envelope.safeParse(raw);
  if (!read.success) return { ok: false, reason: 'not-a-bank' };
  if (read.data.v > 1) return { ok: false, reason: 'newer' };
  return collect(read.data.phrases.map((p, i) => ({ line: i + 1, raw: p })));
}

function collect(rows: readonly { readonly line: number; readonly raw: unknown }[]): ReadBank {
  if (rows.length > MOST_PHRASES) return { ok: false, reason: 'too-many' };
  const phrases: PhraseSaid[] = [];
  const odd: { line: number; why: 'too-long' | 'not-a-phrase' }[] = [];
  for (const { line, raw } of rows) {
    const read = PhraseSaid.safeParse(raw);
    if (read.success) phrases.push(read.data);
    else {
      const said = (raw as { words?: unknown } | null)?.words;
      const long = typeof said === 'string' && said.trim().length > PHRASE_LIMIT;
      odd.push({ line, why: long ? 'too-long' : 'not-a-phrase' });
    }
  }
  return { ok: true, phrases, odd };
}

const INKS = new Map(Object.entries(INK_NAMES).map(([ink, name]) => [name, ink as InkColour]));

function readTable(text: string): ReadBank {
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: false });
  const rows = data.map((cells, i) => ({
    line: i + 1,
    cells: cells.map((c) => unshield(c.trim())),
  }));
  const head = rows[0]?.cells.map((c) => c.toLowerCase()) ?? [];
  const named = head.includes('words');
  const at = (name: (typeof COLUMNS)[number]): number =>
    named ? head.indexOf(name) : name === 'words' ? 0 : name === 'group' ? 1 : -1;
  const cell = (cells: readonly string[], name: (typeof COLUMNS)[number]) => cells[at(name)] ?? '';
  return collect(
    rows
      .slice(named ? 1 : 0)
      .filter(({ cells }) => cells.some(Boolean))
      .map(({ line, cells }) => ({
        line,
        raw: {
          words: cell(cells, 'words'),
          group: GroupName.safeParse(cell(cells, 'group')).data ?? '',
          focus: cell(cells, 'focus').slice(0, 40) || null,
          points: parseSigned(cell(cells, 'points')),
          colour: INKS.get(cell(cells, 'ink').toLowerCase()) ?? null,
          key: FavouriteKey.safeParse(cell(cells, 'key')).data ?? null,
        },
      })),
  );
}
