import { Role, type SchoolPerson } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { ConsentLines } from '../consent/ConsentLines.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { When } from '../frame/When.tsx';
import { AddStaff } from './AddStaff.tsx';
import { PersonDialog } from './PersonDialog.tsx';
import { SchoolActs } from './SchoolActs.tsx';

export const ROLE_WORDS: Readonly<Record<Role, string>> = {
  teacher: 'teacher',
  student: 'student',
  administrator: 'administrator',
};

/**
 * Who comes: the person of the office or of the computers, with somebody at the door who cannot sign in, is there twice, or begins today. They type a name, look
 * at where that person is, and do one thing. What can go wrong: the wrong one of two people with one name; so logins and classes stand beside names.
 */
export function SchoolView() {
  const [like, setLike] = useState('');
  const [role, setRole] = useState<Role | ''>('');
  const [open, setOpen] = useState<SchoolPerson | null>(null);
  const asked = useDeferredValue(like);
  const people = useQuery({
    queryKey: keys.people(asked, role),
    queryFn: () => call('schoolPeople', { query: { ...(asked && { like: asked }), ...(role && { role }) } }),
    placeholderData: (before) => before,
  });
  const rows = people.data?.people ?? [];
  return (
    <>
      <TopBar crumbs={[{ text: 'People' }]} />
      <main className="mx-auto max-w-5xl space-y-5 p-6">
        <ConsentLines />
        <AddStaff />
        <section aria-label="Everybody" className="rounded-lg bg-raised p-5 shadow-sm">
          <div className="flex flex-wrap items-end gap-3">
            <label className="min-w-60 flex-1">
              <span className="text-sm text-soft">Name or login</span>
              <input
                className="field"
                type="search"
                value={like}
                maxLength={100}
                onChange={(e) => setLike(e.target.value)}
              />
            </label>
            <label>
              <span className="text-sm text-soft">Who</span>
              <select
                className="field"
                value={role}
                onChange={(e) => setRole(e.target.value === '' ? '' : Role.parse(e.target.value))}
              >
                <option value="">everybody</option>
                <option value="student">students</option>
                <option value="teacher">teachers</option>
                <option value="administrator">administrators</option>
              </select>
            </label>
          </div>
          {people.error ? (
            <Trouble error={people.error} again={() => people.refetch()} />
          ) : !people.data ? (
            <Waiting what="the people of the school" />
          ) : rows.length === 0 ? (
            <p className="mt-4 text-soft">Nobody’s name or login has these letters.</p>
          ) : (
            <PeopleTable rows={rows} onOpen={setOpen} />
          )}
          {people.data?.more && (
            <p className="mt-3 text-soft">There are more. Type a part of a name to find somebody.</p>
          )}
        </section>
        <SchoolActs />
      </main>
      {open && <PersonDialog person={open} onClose={() => setOpen(null)} />}
    </>
  );
}

function PeopleTable({
  rows,
  onOpen,
}: {
  rows: readonly SchoolPerson[];
  onOpen(person: SchoolPerson): void;
}) {
  return (
    <div className="mt-4 overflow-x-auto">
      <table className="w-full text-left text-[15px]">
        <thead className="text-xs text-soft">
          <tr>
            <th className="py-1 pr-3 font-normal">Name</th>
            <th className="py-1 pr-3 font-normal">Login</th>
            <th className="py-1 pr-3 font-normal">Who</th>
            <th className="py-1 pr-3 font-normal">Classes</th>
            <th className="py-1 pr-3 font-normal">Last here</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((p) => (
            <tr key={p.id} className="border-t border-line">
              <th scope="row" className="py-1 pr-3 font-normal">
                <button
                  type="button"
                  className="min-h-7 text-left font-semibold text-action underline-offset-2 hover:underline"
                  onClick={() => onOpen(p)}
                >
                  {`${p.given} ${p.family}`.trim()}
                </button>
              </th>
              <td className="py-1 pr-3 font-mono text-sm">{p.login}</td>
              <td className="py-1 pr-3">{ROLE_WORDS[p.role]}</td>
              <td className="py-1 pr-3">
                {p.classes.length === 0 ? (
                  <span className="text-soft">{p.role === 'administrator' ? '' : 'none'}</span>
                ) : (
                  p.classes.map((c) => (c.left ? `${c.name} (left)` : c.name)).join(', ')
                )}
              </td>
              <td className="py-1 pr-3 text-soft">
                {p.usedAt === null ? 'not lately' : <When at={p.usedAt} />}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
