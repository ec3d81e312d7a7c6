import Papa from 'papaparse';
import type { Role } from '../contract/shapes.ts';
import { isLogin, MOST_ROSTER } from './login.ts';

/** More students than this no class has; a longer list is a mistake. */
export const MOST_STUDENTS = 1000;

export type LineProblem = 'no-name' | 'formula' | 'too-long' | 'bad-login' | 'double' | 'broken' | 'control';

export interface RosterLine {
  /** Line of the text, counted from 1. */
  readonly line: number;
  readonly given: string;
  readonly family: string;
  /** null: one is made from the name. */
  readonly login: string | null;
  readonly problem: LineProblem | null;
  /** Of a double: the line it repeats. */
  readonly of: number | null;
}

export type Roster =
  | { readonly ok: true; readonly lines: readonly RosterLine[] }
  | { readonly ok: false; readonly reason: 'empty' | 'too-many' | 'too-long'; readonly count: number };

const GIVEN = ['given', 'given name', 'first', 'first name', 'firstname', 'forename'];
const FAMILY = ['family', 'family name', 'last', 'last name', 'lastname', 'surname'];
const NAME = ['name', 'student', 'full name'];
const LOGIN = ['login', 'user', 'username', 'account'];

/**
 * Reads a list of students as it comes: names pasted one a line ("Given Family" or "Family, Given"), or CSV with commas,
 * semicolons or tabs, with a head line or without, with a BOM, with CRLF. Every line comes back, good or with what is
 * wrong with it. A cell that a spreadsheet would run as a formula is not taken.
 */
export function readRoster(text: string): Roster {
  if (text.length > MOST_ROSTER) return { ok: false, reason: 'too-long', count: text.length };
  const plain = text.replace(/^\uFEFF/, '');
  const rows = parse(plain);
  const first = rows[0];
  if (!first) return { ok: false, reason: 'empty', count: 0 };
  const head = columnsOf(first.cells);
  const body = head ? rows.slice(1) : rows;
  if (body.length === 0) return { ok: false, reason: 'empty', count: 0 };
  if (body.length > MOST_STUDENTS) return { ok: false, reason: 'too-many', count: body.length };
  const seen = new Map<string, number>();
  return { ok: true, lines: body.map((row) => readLine(row, head, seen)) };
}

interface Row {
  readonly line: number;
  readonly cells: readonly string[];
  readonly broken: boolean;
}

function parse(text: string): Row[] {
  const delimiter = delimiterOf(text);
  const out: Row[] = [];
  let line = 1;
  // Line by line, so that a quote that never closes spoils its own line only.
  for (const raw of text.split(/\r\n|\n|\r/)) {
    if (raw.trim() !== '') {
      const { data, errors } = Papa.parse<string[]>(raw, delimiter ? { delimiter } : { delimiter: '\u0001' });
      out.push({
        line,
        cells: (data[0] ?? []).map((c) => c.trim()),
        broken: errors.some((e) => e.type === 'Quotes'),
      });
    }
    line++;
  }
  return out.filter((row) => row.cells.some((c) => c !== ''));
}

/** The separator most lines have; null when lines are names alone. "Family, Given" is one name, not two cells. */
function delimiterOf(text: string): string | null {
  const lines = text.split(/\r\n|\n|\r/).filter((l) => l.trim() !== '');
  if (lines.length === 0) return null;
  const share = (d: string) => lines.filter((l) => l.includes(d)).length / lines.length;
  for (const d of ['\t', ';']) if (share(d) > 0.5) return d;
  if (share(',') <= 0.5) return null;
  const head = lines[0]!.split(',').map((c) => c.trim().toLowerCase());
  return columnsOf(head) || lines.some((l) => l.split(',').length > 2 || l.includes('"')) ? ',' : null;
}

interface Columns {
  readonly given: number;
  readonly family: number;
  readonly name: number;
  readonly login: number;
}

function columnsOf(cells: readonly string[]): Columns | null {
  const find = (names: readonly string[]) => cells.findIndex((c) => names.includes(c.trim().toLowerCase()));
  const columns = { given: find(GIVEN), family: find(FAMILY), name: find(NAME), login: find(LOGIN) };
  return columns.given >= 0 || columns.name >= 0 ? columns : null;
}

function readLine(row: Row, head: Columns | null, seen: Map<string, number>): RosterLine {
  const cell = (i: number) => (i >= 0 ? (row.cells[i] ?? '') : '');
  const columns = head ?? columnsByPlace(row.cells);
  let given = cell(columns.given);
  let family = cell(columns.family);
  if (given === '' && columns.name >= 0) [given, family] = splitName(cell(columns.name));
  const login = cell(columns.login).toLowerCase() || null;
  const key = login ?? `${given} ${family}`.normalize('NFC').toLowerCase();
  const problem = problemOf(row, given, family, login) ?? (seen.has(key) ? 'double' : null);
  const of = problem === 'double' ? seen.get(key)! : null;
  if (!problem) seen.set(key, row.line);
  return { line: row.line, given: given.slice(0, 100), family: family.slice(0, 100), login, problem, of };
}

function columnsByPlace(cells: readonly string[]): Columns {
  return cells.length < 2
    ? { given: -1, family: -1, name: 0, login: -1 }
    : { given: 0, family: 1, name: -1, login: cells.length > 2 ? 2 : -1 };
}

/** Small words that belong to the family name after them, as they are written: "de la Cruz", "van der Berg". */
const PARTICLES: ReadonlySet<string> = new Set(
  'af al am auf av bin binti bint da das de degli dei del della den der di do dos du el ibn la las le los ten ter van vom von zu zum zur y'.split(
    ' ',
  ),
);

/** "Family, Given", or the last word as the family name, with the small words before it. A single word is a given name. */
function splitName(name: string): [given: string, family: string] {
  const comma = name.indexOf(',');
  if (comma >= 0) return [name.slice(comma + 1).trim(), name.slice(0, comma).trim()];
  const words = name.split(/\s+/);
  if (words.length < 2) return [name, ''];
  let from = words.length - 1;
  while (from > 1 && PARTICLES.has(words[from - 1]!)) from--;
  return [words.slice(0, from).join(' '), words.slice(from).join(' ')];
}

function problemOf(row: Row, given: string, family: string, login: string | null): LineProblem | null {
  if (row.broken) return 'broken';
  if (row.cells.some((c) => /^[=+@\t]/.test(c) || /^-\S*[(\d]/.test(c))) return 'formula';
  // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is looked for
  if (/[\u0000-\u001f\u007f\u202a-\u202e\u2066-\u2069<>]/.test(given + family)) return 'control';
  if (given === '' || !/\p{L}/u.test(given)) return 'no-name';
  if (given.length > 100 || family.length > 100) return 'too-long';
  if (login !== null && !isLogin(login)) return 'bad-login';
  return null;
}

const PLAIN: Readonly<Record<string, string>> = {
  ß: 'ss',
  æ: 'ae',
  ø: 'o',
  ð: 'd',
  þ: 'th',
  ł: 'l',
  đ: 'd',
  ı: 'i',
  œ: 'oe',
};

/** A login from a name: plain letters, given and family with a dot between, and a number when it is taken already. */
export function loginFor(given: string, family: string, taken: (login: string) => boolean): string {
  const plain = (text: string) =>
    [...text.toLowerCase().normalize('NFD')]
      .map((c) => PLAIN[c] ?? c)
      .join('')
      .replace(/[^a-z0-9-]+/g, '')
      .replace(/^-+|-+$/g, '');
  const base = [plain(given), plain(family)].filter(Boolean).join('.').slice(0, 50) || 'student';
  const login = base.length < 2 ? `${base}.student` : base;
  if (!taken(login)) return login;
  for (let n = 2; ; n++) if (!taken(`${login}${n}`)) return `${login}${n}`;
}

/** The login that each line's student will get: the one it names, or one made from the name that neither the school nor another line has. */
export function loginsFor(
  lines: readonly Pick<RosterLine, 'given' | 'family' | 'login'>[],
  isTaken: (login: string) => boolean,
): string[] {
  const given = new Set(lines.flatMap((l) => l.login ?? []));
  return lines.map(({ given: first, family, login }) => {
    if (login !== null) return login;
    const made = loginFor(first, family, (l) => isTaken(l) || given.has(l));
    given.add(made);
    return made;
  });
}

/** Somebody whom the school knows already. */
export interface Known {
  readonly login: string;
  readonly given: string;
  readonly family: string;
  readonly role: Role;
  /** In this class now, was once, or never. */
  readonly inClass: 'here' | 'left' | 'never';
  /** Whether who adds them teaches them, in whatever class. */
  readonly taught: boolean;
}

export type Outcome = 'new' | 'here' | 'returns' | 'joins' | 'wrong';

export interface PlannedLine extends RosterLine {
  readonly outcome: Outcome;
  /** The login of whom the line means, when the school knows them. */
  readonly known: string | null;
  readonly why: LineProblem | 'a-teacher' | 'not-yours' | null;
}

/**
 * What each line would change: somebody new, somebody who is here already, one who left and returns, or one of the
 * school who joins, whom the teacher has in another class already. Without a login a line means a member or former member of this class with that very name.
 */
export function planRoster(lines: readonly RosterLine[], known: readonly Known[]): PlannedLine[] {
  const byLogin = new Map(known.map((k) => [k.login, k]));
  const nameKey = (given: string, family: string) => `${given} ${family}`.normalize('NFC').toLowerCase();
  const byName = new Map<string, Known>();
  for (const k of known)
    if (k.role === 'student' && k.inClass !== 'never') byName.set(nameKey(k.given, k.family), k);
  return lines.map((line): PlannedLine => {
    if (line.problem) return { ...line, outcome: 'wrong', known: null, why: line.problem };
    const who = line.login ? byLogin.get(line.login) : byName.get(nameKey(line.given, line.family));
    if (!who) return { ...line, outcome: 'new', known: null, why: null };
    if (who.role !== 'student') return { ...line, outcome: 'wrong', known: null, why: 'a-teacher' };
    // Who teaches a student can reset their password: nobody takes a student over by writing a login down.
    if (who.inClass === 'never' && !who.taught)
      return { ...line, outcome: 'wrong', known: null, why: 'not-yours' };
    const outcome = { here: 'here', left: 'returns', never: 'joins' }[who.inClass] as Outcome;
    return { ...line, outcome, known: who.login, why: null };
  });
}
