import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { isLogin } from './login.ts';
import { type Known, loginFor, loginsFor, planRoster, readRoster } from './roster.ts';

const read = (text: string) => {
  const roster = readRoster(text);
  if (!roster.ok) throw new Error(roster.reason);
  return roster.lines;
};
const names = (text: string) => read(text).map((l) => [l.given, l.family, l.login]);

describe('a list of students is read as it comes', () => {
  test.each([
    ['names, one a line', 'Ada Stone\nMaria Luísa Pinheiro\nCher'],
    ['family first', 'Stone, Ada\nPinheiro, Maria Luísa\nCher'],
    ['CSV with a head', 'given,family\nAda,Stone\nMaria Luísa,Pinheiro\nCher,'],
    [
      'semicolons, BOM, CRLF',
      '\uFEFFFamily name;First name\r\nStone;Ada\r\nPinheiro;Maria Luísa\r\n;Cher\r\n',
    ],
    ['tabs, no head', 'Ada\tStone\nMaria Luísa\tPinheiro\nCher\t'],
    ['quotes and empty lines', '"given","family"\n\n"Ada","Stone"\n"Maria Luísa","Pinheiro"\n"Cher",""\n\n'],
  ])('%s', (_, text) => {
    expect(names(text)).toEqual([
      ['Ada', 'Stone', null],
      ['Maria Luísa', 'Pinheiro', null],
      ['Cher', '', null],
    ]);
  });

  test('a login column is taken, in small letters', () => {
    expect(names('given,family,login\nAda,Stone,Ada.S')).toEqual([['Ada', 'Stone', 'ada.s']]);
  });

  test('lines keep the numbers they have in the file', () => {
    expect(read('given;family\n\nAda;Stone\n\nBen;Stone').map((l) => l.line)).toEqual([3, 5]);
  });

  test('what is wrong is said of its line, the others stay good', () => {
    const lines = read(
      'given,family,login\n=HYPERLINK("x"),Stone,\n+49,Stone,\n,,x\nAda,Stone,\nADA,stone,\nBen,"Stone,\nCy,Stone,Cy!\n@sum,A,\n-2(3),A,\nDee\u202e,Stone,\nEve,Stone,',
    );
    expect(lines.map((l) => [l.line, l.problem, l.of])).toEqual([
      [2, 'formula', null],
      [3, 'formula', null],
      [4, 'no-name', null],
      [5, null, null],
      [6, 'double', 5],
      [7, 'broken', null],
      [8, 'bad-login', null],
      [9, 'formula', null],
      [10, 'formula', null],
      [11, 'control', null],
      [12, null, null],
    ]);
  });

  test('two people of one name are both taken when their logins differ', () => {
    expect(read('given,family,login\nAda,Stone,ada.a\nAda,Stone,ada.b').map((l) => l.problem)).toEqual([
      null,
      null,
    ]);
  });

  test('ten thousand lines are too many for a class, and a novel is no list', () => {
    const lines = Array.from({ length: 10_000 }, (_, i) => `Ada;Stone${i}`).join('\n');
    expect(readRoster(lines)).toEqual({ ok: false, reason: 'too-many', count: 10_000 });
    expect(readRoster('x'.repeat(1_000_001))).toMatchObject({ ok: false, reason: 'too-long' });
    expect(readRoster(' \n \n')).toMatchObject({ ok: false, reason: 'empty' });
  });

  test('whatever comes, nothing throws and no formula gets through', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 300 }), (text) => {
        const roster = readRoster(text);
        if (roster.ok)
          for (const l of roster.lines) if (!l.problem) expect(`${l.given}${l.family}`).not.toMatch(/^[=+@]/);
      }),
      { seed: 21, numRuns: 500 },
    );
  });
});

describe('logins', () => {
  test('are plain letters made from the name', () => {
    expect(loginFor('Inés', 'Castellano-Ruiz', () => false)).toBe('ines.castellano-ruiz');
    expect(loginFor('Łukasz', 'Bäcklund', () => false)).toBe('lukasz.backlund');
    expect(loginFor('Cher', '', () => false)).toBe('cher');
    expect(loginFor('李', '明', () => false)).toBe('student');
  });

  test('names with small words, single ones and other scripts', () => {
    expect(names('Ana de la Cruz\nJan van der Berg\nLudwig von Stein\nVan Morris\nde la\n李 明')).toEqual([
      ['Ana', 'de la Cruz', null],
      ['Jan', 'van der Berg', null],
      ['Ludwig', 'von Stein', null],
      ['Van', 'Morris', null],
      ['de', 'la', null],
      ['李', '明', null],
    ]);
  });

  test('of several lines none gets the login of another, nor one that the school has', () => {
    const line = (given: string, family: string, login: string | null = null) => ({ given, family, login });
    const taken = new Set(['ada.stone']);
    expect(
      loginsFor(
        [line('Ada', 'Stone'), line('Ada', 'Stone'), line('Bo', 'Xu', 'ada.stone2'), line('李', '明')],
        (l) => taken.has(l),
      ),
    ).toEqual(['ada.stone3', 'ada.stone4', 'ada.stone2', 'student']);
  });

  test('taken ones get a number', () => {
    const taken = new Set(['ada.stone', 'ada.stone2']);
    expect(loginFor('Ada', 'Stone', (l) => taken.has(l))).toBe('ada.stone3');
  });

  test('every login that is made is one', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 120 }), fc.string({ maxLength: 120 }), (a, b) => {
        expect(isLogin(loginFor(a, b, () => false))).toBe(true);
      }),
      { seed: 22, numRuns: 300 },
    );
  });
});

describe('what a list would change', () => {
  const known: Known[] = [
    { login: 'ada.stone', given: 'Ada', family: 'Stone', role: 'student', inClass: 'here', taught: true },
    { login: 'ben.stone', given: 'Ben', family: 'Stone', role: 'student', inClass: 'left', taught: true },
    { login: 'cy.stone', given: 'Cy', family: 'Stone', role: 'student', inClass: 'never', taught: true },
    { login: 'quill', given: 'Quill', family: 'Feather', role: 'teacher', inClass: 'here', taught: true },
  ];
  test('new, here, returns, joins by login only, and a teacher’s login is none for a student', () => {
    const plan = planRoster(
      read('given,family,login\nAda,Stone,\nben,STONE,\nCy,Stone,\nCyrus,S,cy.stone\nQ,F,quill\nDee,Stone,'),
      known,
    );
    expect(plan.map((p) => [p.outcome, p.known, p.why])).toEqual([
      ['here', 'ada.stone', null],
      ['returns', 'ben.stone', null],
      ['new', null, null],
      ['joins', 'cy.stone', null],
      ['wrong', null, 'a-teacher'],
      ['new', null, null],
    ]);
  });
});
