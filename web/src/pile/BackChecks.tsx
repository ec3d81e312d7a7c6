import type { AssignmentId, BackWarning, PileRow } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Fragment } from 'react';
import { Link } from 'react-router';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { addressOfCopy } from '../pile-order/copy-address.ts';

const WORDS: Readonly<Record<BackWarning, string>> = {
  unmarked: 'Not marked yet',
  'no-grade': 'Without a grade',
  'does-not-add-up': 'Points do not add up',
  'questions-open': 'Questions not scored',
  'typed-over': 'Grade typed over the computed one',
  'no-closing-words': 'No closing words',
  'unread-message': 'A message you have not read',
};

/** What one may want to look at before these copies go back, each name one move from its copy. */
export function BackChecks({ assignmentId, rows }: { assignmentId: AssignmentId; rows: readonly PileRow[] }) {
  const copyIds = rows.map((r) => r.copyId);
  const check = useQuery({
    queryKey: keys.backCheck(assignmentId, copyIds.join()),
    queryFn: () => call('checkHandBack', { params: { assignmentId }, body: { copyIds } }),
    enabled: copyIds.length > 0,
    staleTime: 0,
    gcTime: 0,
  });
  if (check.error) return <p className="mt-3 text-caution">These copies could not be checked just now.</p>;
  if (!check.data) return <p className="mt-3 text-soft">Checking …</p>;
  const by = new Map<BackWarning, PileRow[]>();
  for (const { copyId, warnings } of check.data) {
    const row = rows.find((r) => r.copyId === copyId);
    if (row) for (const w of warnings) by.set(w, [...(by.get(w) ?? []), row]);
  }
  if (by.size === 0) return <p className="mt-3 text-soft">Checked: nothing stands out.</p>;
  return (
    <ul className="mt-3 space-y-1" aria-label="Check before">
      {[...by].map(([warning, some]) => (
        <li key={warning}>
          <span className="text-caution">
            {WORDS[warning]}
            {some.length > 1 && ` (${some.length})`}:
          </span>{' '}
          {some.slice(0, 12).map((row, i) => (
            <Fragment key={row.copyId}>
              {i > 0 && ', '}
              <Link to={addressOfCopy(row)} className="underline hover:text-action">
                {`${row.student.given} ${row.student.family}`.trim()}
              </Link>
            </Fragment>
          ))}
          {some.length > 12 && ` and ${some.length - 12} more`}
        </li>
      ))}
    </ul>
  );
}
