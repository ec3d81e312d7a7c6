import { describe, expect, test } from 'vitest';
import type { BookCell, BookColumn } from '../contract/book-routes.ts';
import { PLAIN_RULE } from '../mark-book/rule.ts';
import { writeCsv } from '../table/csv.ts';
import { type RosterClass, writeOneRoster } from './one-roster.ts';
import { readOneRoster } from './read-one-roster.ts';

const cell = (more: Partial<BookCell>) =>
  ({
    personId: 's1',
    assignmentId: 'w1',
    grade: null,
    held: false,
    excused: false,
    missing: false,
    late: false,
    ...more,
  }) as BookCell;
const roster = (more: Partial<RosterClass> = {}): RosterClass => ({
  classId: 'c1',
  className: '7K',
  school: 'Hollin Bay School',
  teachers: [{ id: 't1', given: 'Maren', family: 'Quill', login: 'quill' }],
  students: [
    { id: 's1', given: 'Ada', family: 'O’Stone, the second', login: 'ada.stone' },
    { id: 's2', given: 'Thảo Vy', family: '', login: 'thao' },
  ],
  book: {
    rule: { ...PLAIN_RULE, weights: [{ category: 'test', weight: 3 }] },
    columns: [
      { id: 'w1', title: 'Tides', category: 'test', most: 2500, at: 1 },
      { id: 'w2', title: 'Ungraded', category: '', most: null, at: 1 },
    ] as BookColumn[],
    cells: [cell({ grade: 1850 }), cell({ personId: 's2' as never, missing: true })],
  },
  year: { from: '2026-09-01', to: '2027-07-31' },
  day: () => '2026-11-20',
  ...more,
});
const textOf = (files: Map<string, string[][]>) =>
  new Map([...files].map(([name, lines]) => [name, writeCsv(lines)]));

describe('a class as OneRoster files', () => {
  test('every table has the columns of the standard, every line as many cells, and every id that is named is there', () => {
    const files = writeOneRoster(roster());
    for (const [name, [head, ...lines]] of files)
      for (const line of lines) expect(line.length, name).toBe(head!.length);
    const ids = (name: string) =>
      new Set(
        files
          .get(`${name}.csv`)!
          .slice(1)
          .map((l) => l[0]),
      );
    const named = (name: string, column: string) => {
      const [head, ...lines] = files.get(`${name}.csv`)!;
      return lines.map((l) => l[head!.indexOf(column)]!);
    };
    for (const [table, column, of] of [
      ['classes', 'courseSourcedId', 'courses'],
      ['classes', 'schoolSourcedId', 'orgs'],
      ['classes', 'termSourcedIds', 'academicSessions'],
      ['enrollments', 'userSourcedId', 'users'],
      ['roles', 'userSourcedId', 'users'],
      ['lineItems', 'categorySourcedId', 'categories'],
      ['results', 'lineItemSourcedId', 'lineItems'],
      ['results', 'studentSourcedId', 'users'],
    ] as const)
      for (const id of named(table, column)) expect(ids(of).has(id), `${table}.${column} ${id}`).toBe(true);
    expect(named('results', 'scoreStatus')).toEqual(['fully graded', 'not submitted']);
    expect(named('results', 'score')).toEqual(['18.5', '']);
    expect(named('categories', 'weight')).toEqual(['1', '3']);
    const manifest = new Map(files.get('manifest.csv')!.map(([k, v]) => [k!, v!]));
    expect(manifest.get('oneroster.version')).toBe('1.2');
    for (const name of files.keys())
      if (name !== 'manifest.csv') expect(manifest.get(`file.${name.replace('.csv', '')}`)).toBe('bulk');
    expect(manifest.get('file.demographics')).toBe('absent');
  });

  test('read back: the same class with the same students, commas and accents and all', () => {
    expect(readOneRoster(textOf(writeOneRoster(roster())))).toEqual({
      classes: [
        {
          title: '7K',
          students: [
            { given: 'Ada', family: 'O’Stone, the second', login: 'ada.stone' },
            { given: 'Thảo Vy', family: '', login: 'thao' },
          ],
          works: [
            {
              title: 'Tides',
              category: 'test',
              most: 2500,
              due: '2026-11-20',
              grades: [{ given: 'Ada', family: 'O’Stone, the second', login: 'ada.stone', grade: 1850 }],
            },
          ],
        },
      ],
      troubles: [],
    });
  });
});

describe('files that do not fit', () => {
  const files = (more: Record<string, string>) =>
    new Map(
      Object.entries({
        'users.csv':
          'sourcedId,username,givenName,familyName\nu1,Ada.S@school.example,Ada,Stone\nu1,again,Ada,Stone\nu2,x,,Nameless\nu3,"bad login",Ben,Brook',
        'classes.csv': 'sourcedId,title\nc1,7K\nc2,7L',
        'enrollments.csv':
          'sourcedId,classSourcedId,userSourcedId,role\ne1,c1,u1,student\ne2,c1,nobody,student\ne3,gone,u1,student\ne4,c1,u2,student\ne5,c2,u3,student\ne6,c1,u9,teacher',
        ...more,
      }),
    );

  test('doubles, people that are unknown or nameless are told and left out; the rest is read', () => {
    const { classes, troubles } = readOneRoster(files({}));
    expect(classes).toEqual([
      { title: '7K', students: [{ given: 'Ada', family: 'Stone', login: 'ada.s' }], works: [] },
      { title: '7L', students: [{ given: 'Ben', family: 'Brook', login: '' }], works: [] },
    ]);
    expect(troubles.map((t) => `${t.what} ${t.of}`)).toEqual([
      'double u1',
      'unknown-user nobody',
      'unknown-class gone',
      'no-name u2',
    ]);
  });

  test('words in columns of numbers and grades of nobody are told and left out', () => {
    const { classes, troubles } = readOneRoster(
      files({
        'lineItems.csv':
          'sourcedId,title,classSourcedId,resultValueMax,dueDate\nl1,Tides,c1,"12,5",soon\nl2,Essay,c1,many,',
        'results.csv':
          'sourcedId,lineItemSourcedId,studentSourcedId,score\nr1,l1,u1,7.5\nr2,l1,u3,absent\nr3,l1,u9,3\nr4,l1,u3,',
      }),
    );
    expect(classes[0]!.works).toEqual([
      {
        title: 'Tides',
        category: '',
        most: 1250,
        due: '',
        grades: [{ given: 'Ada', family: 'Stone', login: 'ada.s', grade: 750 }],
      },
    ]);
    expect(troubles.slice(-3).map((t) => `${t.what} ${t.of}`)).toEqual([
      'bad-number absent',
      'unknown-user u9',
      'bad-number Essay',
    ]);
  });

  test('missing files, another version, and a file that tells changes only', () => {
    expect(readOneRoster(new Map()).troubles.map((t) => t.file)).toEqual([
      'users.csv',
      'classes.csv',
      'enrollments.csv',
    ]);
    const manifest = 'propertyName,value\noneroster.version,2.0\nfile.users,delta';
    const told = readOneRoster(files({ 'manifest.csv': manifest })).troubles.map((t) => t.what);
    expect(told).toContain('version');
    expect(told).toContain('delta');
  });
});
