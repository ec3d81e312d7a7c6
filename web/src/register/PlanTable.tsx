import { type ClassId, isLogin, type RosterPlan } from '@jotmark/core';
import { AskFor } from '../consent/AskFor.tsx';
import { plural } from '../time/words.ts';

export type Line = RosterPlan['lines'][number];

const OUTCOME: Readonly<Record<Line['outcome'], string>> = {
  new: 'new, gets an account',
  here: 'in the class already',
  returns: 'left before, comes back with all work',
  joins: 'has an account at the school, joins',
  wrong: 'not taken',
};

const WHY: Readonly<Record<NonNullable<Line['why']>, (line: Line) => string>> = {
  'no-name': () => 'there is no name in this line',
  formula: () => 'a cell begins like a formula (=, +, @); a spreadsheet would run it. Remove that sign',
  'too-long': () => 'the name is longer than 100 letters',
  'bad-login': (l) => `“${l.login}” cannot be a login: small letters, digits, dots and dashes only`,
  double: (l) => `the same as line ${l.of}. If these are two people, give one of them a login of their own`,
  broken: () => 'a quotation mark is never closed',
  control: () => 'there are signs in it that no name has',
  'not-yours': (l) =>
    `“${l.login}” belongs to a student whom you do not teach. Ask below: a teacher who has them, or an administrator, says yes`,
  'a-teacher': (l) => `“${l.login}” is the login of a teacher`,
};

/** Longer lists are shown as they are: they are corrected where they were made. */
const MOST_TO_CORRECT = 200;

export type Correction = Partial<Pick<Line, 'given' | 'family' | 'login'>>;

/** What is wrong with a login that was typed into the preview, by line. */
export function loginTrouble(lines: readonly Line[]): ReadonlyMap<number, string> {
  const wrong = new Map<number, string>();
  const first = new Map<string, number>();
  for (const { line, outcome, login } of lines) {
    if (outcome !== 'new' || login === null) continue;
    const before = first.get(login);
    if (!isLogin(login)) wrong.set(line, 'Small letters, digits, dots and dashes, at least 2.');
    else if (before !== undefined) wrong.set(line, `The same as in line ${before}.`);
    else first.set(login, line);
  }
  return wrong;
}

function Cell({
  label,
  value,
  most,
  onValue,
}: {
  readonly label: string;
  readonly value: string;
  readonly most: number;
  onValue(value: string): void;
}) {
  return (
    <input
      aria-label={label}
      className="h-7 w-full min-w-20 rounded border border-transparent bg-transparent px-1 hover:border-line focus:border-action focus:bg-paper"
      value={value}
      maxLength={most}
      autoComplete="off"
      onChange={(e) => onValue(e.target.value)}
    />
  );
}

/** Lines with something wrong first, each with its number; then what the good ones would do. */
export function PlanTable({
  classId,
  lines,
  wrongLogins,
  onCorrect,
}: {
  readonly classId: ClassId;
  readonly lines: readonly Line[];
  readonly wrongLogins: ReadonlyMap<number, string>;
  onCorrect(line: Line, part: Correction): void;
}) {
  const wrong = lines.filter((l) => l.outcome === 'wrong');
  const rest = lines.filter((l) => l.outcome !== 'wrong');
  const counts = (['new', 'joins', 'returns', 'here'] as const)
    .map((o) => [o, rest.filter((l) => l.outcome === o).length] as const)
    .filter(([, n]) => n > 0);
  return (
    <>
      <p>
        {counts.map(([o, n]) => `${n} ${OUTCOME[o]}`).join(' · ') || 'No line can be taken.'}
        {wrong.length > 0 && (
          <span className="text-caution"> · {plural(wrong.length, 'line', 'lines')} not taken</span>
        )}
      </p>
      {wrong.length > 0 && (
        <ul
          className="mt-2 max-h-40 overflow-auto rounded bg-margin p-3 text-sm"
          aria-label="Lines with something wrong"
        >
          {wrong.slice(0, 200).map((l) => (
            <li key={l.line} className="py-0.5">
              <strong className="tabular">Line {l.line}</strong>
              {(l.given || l.family) && ` (${`${l.given} ${l.family}`.trim()})`}: {WHY[l.why!](l)}.
              {l.why === 'not-yours' && l.login && <AskFor classId={classId} login={l.login} />}
            </li>
          ))}
        </ul>
      )}
      <div className="mt-3 max-h-72 overflow-auto">
        <table className="w-full text-left text-sm">
          <thead className="sticky top-0 bg-raised text-soft">
            <tr>
              <th className="py-1 font-normal">Line</th>
              <th className="font-normal">Name</th>
              <th className="font-normal">Login</th>
              <th className="font-normal">What happens</th>
            </tr>
          </thead>
          <tbody>
            {rest.map((l) => (
              <tr key={l.line} className="border-t border-line">
                <td className="py-1 tabular">{l.line}</td>
                {l.outcome === 'new' && rest.length <= MOST_TO_CORRECT ? (
                  <>
                    <td className="py-0.5">
                      <span className="flex gap-1">
                        <Cell
                          label={`Given name in line ${l.line}`}
                          value={l.given}
                          most={100}
                          onValue={(given) => onCorrect(l, { given })}
                        />
                        <Cell
                          label={`Family name in line ${l.line}`}
                          value={l.family}
                          most={100}
                          onValue={(family) => onCorrect(l, { family })}
                        />
                      </span>
                    </td>
                    <td className="py-0.5">
                      <Cell
                        label={`Login in line ${l.line}`}
                        value={l.login ?? ''}
                        most={60}
                        onValue={(login) => onCorrect(l, { login })}
                      />
                      {wrongLogins.has(l.line) && (
                        <span role="alert" className="block text-xs text-caution">
                          {wrongLogins.get(l.line)}
                        </span>
                      )}
                    </td>
                  </>
                ) : (
                  <>
                    <td className="font-semibold">{`${l.given} ${l.family}`.trim()}</td>
                    <td className="text-soft">{l.known ?? l.login}</td>
                  </>
                )}
                <td className={l.outcome === 'here' ? 'text-soft' : ''}>{OUTCOME[l.outcome]}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
