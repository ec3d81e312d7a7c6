import type { MarkBook } from '../contract/book-routes.ts';
import { weightOf } from '../mark-book/rule.ts';

/**
 * Registers and grades in the form of OneRoster 1.2, CSV binding (1EdTech, final release of 2022): a file a table, all of it in bulk. What is not held here (courses of a
 * curriculum, demographics) is absent and said so in the manifest.
 */
export interface RosterClass {
  readonly classId: string;
  readonly className: string;
  readonly school: string;
  readonly teachers: readonly RosterPerson[];
  readonly students: readonly RosterPerson[];
  readonly book: Pick<MarkBook, 'columns' | 'cells' | 'rule'>;
  /** The school year it belongs to: its first and last day, as YYYY-MM-DD. */
  readonly year: { readonly from: string; readonly to: string };
  /** A day in words of the standard, YYYY-MM-DD, by the school's clock. */
  readonly day: (at: number) => string;
}

export interface RosterPerson {
  readonly id: string;
  readonly given: string;
  readonly family: string;
  readonly login: string;
}

const TABLES = {
  academicSessions:
    'sourcedId,status,dateLastModified,title,type,startDate,endDate,parentSourcedId,schoolYear',
  categories: 'sourcedId,status,dateLastModified,title,weight',
  classes:
    'sourcedId,status,dateLastModified,title,grades,courseSourcedId,classCode,classType,location,schoolSourcedId,termSourcedIds,subjects,subjectCodes,periods',
  courses:
    'sourcedId,status,dateLastModified,schoolYearSourcedId,title,courseCode,grades,orgSourcedId,subjects,subjectCodes',
  enrollments:
    'sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role,primary,beginDate,endDate',
  lineItems:
    'sourcedId,status,dateLastModified,title,description,assignDate,dueDate,classSourcedId,categorySourcedId,gradingPeriodSourcedId,resultValueMin,resultValueMax,schoolSourcedId',
  orgs: 'sourcedId,status,dateLastModified,name,type,identifier,parentSourcedId',
  results:
    'sourcedId,status,dateLastModified,lineItemSourcedId,studentSourcedId,scoreStatus,score,scoreDate,comment,textScore,classSourcedId,inProgress,incomplete,late,missing',
  roles:
    'sourcedId,status,dateLastModified,userSourcedId,roleType,role,beginDate,endDate,orgSourcedId,userProfileSourcedId',
  users:
    'sourcedId,status,dateLastModified,enabledUser,username,userIds,givenName,familyName,middleName,identifier,email,sms,phone,agentSourcedIds,grades,password,userMasterIdentifier,resourceSourcedIds,preferredGivenName,preferredMiddleName,preferredFamilyName,primaryOrgSourcedId,pronouns',
} as const;
type TableName = keyof typeof TABLES;

/** Tables of the standard that are not written. */
const ABSENT = [
  'classResources',
  'courseResources',
  'demographics',
  'lineItemLearningObjectiveIds',
  'lineItemScoreScales',
  'resources',
  'resultLearningObjectiveIds',
  'resultScoreScales',
  'scoreScales',
  'userProfiles',
  'userResources',
] as const;

const heads = (name: TableName): string[] => TABLES[name].split(',');
/** A line by the names of its columns; what is not named stays empty. */
const lineOf = (name: TableName, values: Readonly<Record<string, string>>): string[] =>
  heads(name).map((h) => values[h] ?? '');

const bool = (value: boolean): string => (value ? 'true' : 'false');
const points = (hundredths: number): string => String(hundredths / 100);

/** A class as the files of a bulk export, by their names; lines of cells, the head first. Only what has been handed back counts as fully graded. */
export function writeOneRoster(c: RosterClass): Map<string, string[][]> {
  const org = `school-${c.classId}`;
  const year = `year-${c.classId}`;
  const course = `course-${c.classId}`;
  const categories = [...new Set(c.book.columns.map((w) => w.category))].sort();
  const categoryId = (name: string) => `category-${c.classId}-${categories.indexOf(name)}`;
  const works = c.book.columns.filter((w) => w.most !== null);
  const people = [
    ...c.teachers.map((p) => ({ ...p, role: 'teacher' })),
    ...c.students.map((p) => ({ ...p, role: 'student' })),
  ];
  const rows: Record<TableName, Record<string, string>[]> = {
    orgs: [{ sourcedId: org, name: c.school, type: 'school' }],
    academicSessions: [
      {
        sourcedId: year,
        title: `${c.year.from.slice(0, 4)}/${c.year.to.slice(0, 4)}`,
        type: 'schoolYear',
        startDate: c.year.from,
        endDate: c.year.to,
        schoolYear: c.year.to.slice(0, 4),
      },
    ],
    courses: [{ sourcedId: course, schoolYearSourcedId: year, title: c.className, orgSourcedId: org }],
    classes: [
      {
        sourcedId: c.classId,
        title: c.className,
        courseSourcedId: course,
        classType: 'scheduled',
        schoolSourcedId: org,
        termSourcedIds: year,
      },
    ],
    users: people.map((p) => ({
      sourcedId: p.id,
      enabledUser: 'true',
      username: p.login,
      givenName: p.given,
      familyName: p.family,
      primaryOrgSourcedId: org,
    })),
    roles: people.map((p) => ({
      sourcedId: `role-${c.classId}-${p.id}`,
      userSourcedId: p.id,
      roleType: 'primary',
      role: p.role,
      orgSourcedId: org,
    })),
    enrollments: people.map((p) => ({
      sourcedId: `enrolment-${c.classId}-${p.id}`,
      classSourcedId: c.classId,
      schoolSourcedId: org,
      userSourcedId: p.id,
      role: p.role,
      primary: p.role === 'teacher' ? bool(p.id === c.teachers[0]?.id) : '',
    })),
    categories: categories.map((name) => ({
      sourcedId: categoryId(name),
      title: name || 'other work',
      weight: String(weightOf(c.book.rule, name)),
    })),
    lineItems: works.map((w) => ({
      sourcedId: w.id,
      title: w.title,
      assignDate: c.day(w.at),
      dueDate: c.day(w.at),
      classSourcedId: c.classId,
      categorySourcedId: categoryId(w.category),
      gradingPeriodSourcedId: year,
      resultValueMin: '0',
      resultValueMax: points(w.most!),
      schoolSourcedId: org,
    })),
    results: works.flatMap((w) =>
      c.book.cells
        .filter((cell) => cell.assignmentId === w.id && (cell.grade !== null || cell.excused || cell.missing))
        .map((cell) => ({
          sourcedId: `result-${w.id}-${cell.personId}`,
          lineItemSourcedId: w.id,
          studentSourcedId: cell.personId,
          scoreStatus: cell.excused
            ? 'exempt'
            : cell.grade === null
              ? 'not submitted'
              : cell.held
                ? 'partially graded'
                : 'fully graded',
          score: cell.grade === null ? '' : points(cell.grade),
          scoreDate: c.day(w.at),
          classSourcedId: c.classId,
          inProgress: bool(cell.held && cell.grade !== null),
          late: bool(cell.late),
          missing: bool(cell.missing),
        })),
    ),
  };
  const names = Object.keys(TABLES) as TableName[];
  const manifest = [
    ['propertyName', 'value'],
    ['manifest.version', '1.0'],
    ['oneroster.version', '1.2'],
    ...[...names, ...ABSENT]
      .sort()
      .map((name) => [`file.${name}`, (ABSENT as readonly string[]).includes(name) ? 'absent' : 'bulk']),
    ['source.systemName', 'Jotmark'],
    ['source.systemCode', ''],
  ];
  return new Map([
    ['manifest.csv', manifest],
    ...names.map((name): [string, string[][]] => [
      `${name}.csv`,
      [heads(name), ...rows[name].map((row) => lineOf(name, row))],
    ]),
  ]);
}
