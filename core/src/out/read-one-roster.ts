import { readCsv } from '../table/csv.ts';
import type { RosterPerson } from './one-roster.ts';

/** A class as such files tell of it. */
export interface FoundClass {
  readonly title: string;
  readonly students: readonly Omit<RosterPerson, 'id'>[];
  /** Its work with the grades there are. */
  readonly works: readonly FoundWork[];
}

/** Work of a class with what its students got. */
export interface FoundWork {
  readonly title: string;
  readonly category: string;
  /** In hundredths. */
  readonly most: number;
  /** The day it was due, as YYYY-MM-DD; empty: none. */
  readonly due: string;
  readonly grades: readonly (Omit<RosterPerson, 'id'> & { readonly grade: number })[];
}

/** Something in such files that does not fit; the rest is read all the same. */
export interface RosterTrouble {
  readonly what:
    | 'missing-file'
    | 'unknown-user'
    | 'unknown-class'
    | 'double'
    | 'no-name'
    | 'version'
    | 'delta'
    | 'too-long'
    | 'bad-number';
  /** The file, and the id or name it is about. */
  readonly file: string;
  readonly of: string;
}

/** No file of a school has more lines. */
export const MOST_ROSTER_LINES = 50_000;

/** Lines of a file by the names of its columns; ids that come twice are told, and the first counts. */
function rowsOf(
  files: ReadonlyMap<string, string>,
  file: string,
  troubles: RosterTrouble[],
): Record<string, string>[] {
  const text = files.get(file);
  if (text === undefined) {
    troubles.push({ what: 'missing-file', file, of: file });
    return [];
  }
  const { cells, more } = readCsv(text, MOST_ROSTER_LINES);
  if (more) troubles.push({ what: 'too-long', file, of: String(MOST_ROSTER_LINES) });
  const [head = [], ...lines] = cells;
  const seen = new Set<string>();
  return lines.flatMap((line) => {
    const row = Object.fromEntries(head.map((h, i) => [h.trim(), (line[i] ?? '').trim()]));
    if (!row.sourcedId || row.status === 'tobedeleted') return [];
    if (seen.has(row.sourcedId)) {
      troubles.push({ what: 'double', file, of: row.sourcedId });
      return [];
    }
    seen.add(row.sourcedId);
    return [row];
  });
}

/**
 * Classes and their students out of the files of an export, by their names (`users.csv` …). What does not fit is told and left out: enrolments of nobody or in no class,
 * people without a name, ids that come twice, files that are missing. Classes keep the order of their file.
 */
export function readOneRoster(files: ReadonlyMap<string, string>): {
  readonly classes: readonly FoundClass[];
  readonly troubles: readonly RosterTrouble[];
} {
  const troubles: RosterTrouble[] = [];
  const manifest = files.get('manifest.csv');
  if (manifest !== undefined) {
    const told = new Map(
      readCsv(manifest, 200).cells.map(([name = '', value = '']) => [name.trim(), value.trim()]),
    );
    const version = told.get('oneroster.version') ?? '';
    if (!/^1\.[12]/.test(version)) troubles.push({ what: 'version', file: 'manifest.csv', of: version });
    if (told.get('file.users') === 'delta') troubles.push({ what: 'delta', file: 'users.csv', of: 'delta' });
  }
  const users = new Map(rowsOf(files, 'users.csv', troubles).map((u) => [u.sourcedId!, u]));
  const classes = rowsOf(files, 'classes.csv', troubles);
  const known = new Set(classes.map((c) => c.sourcedId));
  const members = new Map<string, Map<string, Omit<RosterPerson, 'id'>>>();
  for (const e of rowsOf(files, 'enrollments.csv', troubles)) {
    if (e.role !== 'student') continue;
    const [classId = '', userId = ''] = [e.classSourcedId, e.userSourcedId];
    const user = users.get(userId);
    if (!known.has(classId)) troubles.push({ what: 'unknown-class', file: 'enrollments.csv', of: classId });
    else if (!user) troubles.push({ what: 'unknown-user', file: 'enrollments.csv', of: userId });
    else if (!(user.preferredGivenName || user.givenName))
      troubles.push({ what: 'no-name', file: 'users.csv', of: userId });
    else {
      const of = members.get(classId) ?? new Map();
      of.set(userId, personIn(user));
      members.set(classId, of);
    }
  }
  const works = worksOf(files, users, troubles);
  return {
    classes: classes.map((c) => ({
      title: c.title || c.classCode || c.sourcedId!,
      students: [...(members.get(c.sourcedId!)?.values() ?? [])],
      works: works.get(c.sourcedId!) ?? [],
    })),
    troubles,
  };
}

const personIn = (user: Record<string, string>): Omit<RosterPerson, 'id'> => ({
  given: user.preferredGivenName || user.givenName || '',
  family: user.preferredFamilyName || user.familyName || '',
  login: loginIn(user.username ?? ''),
});

/** A number as hundredths; null: it is none, or no grade could be it. */
function hundredthsIn(text: string | undefined): number | null {
  const value = Number((text ?? '').replace(',', '.'));
  return text && Number.isFinite(value) && value >= 0 && value <= 10_000 ? Math.round(value * 100) : null;
}

/** Work with its grades, by the class it was set for; files of grades may be missing, many exports have none. */
function worksOf(
  files: ReadonlyMap<string, string>,
  users: ReadonlyMap<string, Record<string, string>>,
  troubles: RosterTrouble[],
): Map<string, FoundWork[]> {
  const out = new Map<string, FoundWork[]>();
  if (!files.has('lineItems.csv')) return out;
  const categories = new Map(
    (files.has('categories.csv') ? rowsOf(files, 'categories.csv', troubles) : []).map((c) => [
      c.sourcedId,
      c.title ?? '',
    ]),
  );
  const results = files.has('results.csv') ? rowsOf(files, 'results.csv', troubles) : [];
  for (const item of rowsOf(files, 'lineItems.csv', troubles)) {
    const most = hundredthsIn(item.resultValueMax);
    if (most === null || most === 0) {
      troubles.push({ what: 'bad-number', file: 'lineItems.csv', of: item.title || item.sourcedId! });
      continue;
    }
    const grades = results
      .filter((r) => r.lineItemSourcedId === item.sourcedId && r.score)
      .flatMap((r) => {
        const user = users.get(r.studentSourcedId ?? '');
        const grade = hundredthsIn(r.score);
        if (!user) troubles.push({ what: 'unknown-user', file: 'results.csv', of: r.studentSourcedId ?? '' });
        else if (grade === null) troubles.push({ what: 'bad-number', file: 'results.csv', of: r.score! });
        return user && grade !== null ? [{ ...personIn(user), grade }] : [];
      });
    const classId = item.classSourcedId ?? '';
    out.set(classId, [
      ...(out.get(classId) ?? []),
      {
        title: item.title || item.sourcedId!,
        category: categories.get(item.categorySourcedId ?? '') ?? '',
        most,
        due: /^\d{4}-\d{2}-\d{2}/.exec(item.dueDate ?? '')?.[0] ?? '',
        grades,
      },
    ]);
  }
  return out;
}

/** What may be a login here of what another system calls somebody; an address by its first part. Empty: none, one is made. */
const loginIn = (username: string): string => {
  const login = username.toLowerCase().split('@')[0]!;
  return /^[a-z0-9][a-z0-9._-]{1,59}$/.test(login) ? login : '';
};
