import type { AssignmentStudent, PersonId } from '@jotmark/core';

interface Props {
  readonly groups: readonly { readonly key: string; readonly members: readonly AssignmentStudent[] }[];
  /** Who is in no group. */
  readonly alone?: readonly AssignmentStudent[];
  /** Into the group counted from 0, behind the last for a new one; null: into none. */
  onMove(who: PersonId, to: number | null): void;
}

const nameOf = (s: AssignmentStudent) => `${s.given} ${s.family}`;

/** Groups with their members; each member is moved by choosing another group beside their name. */
export function GroupList({ groups, alone = [], onMove }: Props) {
  const line = (s: AssignmentStudent, at: number | null) => (
    <li key={s.personId} className="flex items-center gap-2">
      <span className="min-w-0 flex-1 truncate">{nameOf(s)}</span>
      <select
        aria-label={`Group of ${nameOf(s)}`}
        className="min-h-8 max-w-28 rounded border border-line bg-paper px-1 text-sm"
        value={at ?? 'none'}
        onChange={(e) => onMove(s.personId, e.target.value === 'none' ? null : Number(e.target.value))}
      >
        <option value="none">alone</option>
        {groups.map((g, i) => (
          <option key={g.key} value={i}>
            Group {i + 1}
          </option>
        ))}
        <option value={groups.length}>new group</option>
      </select>
    </li>
  );
  return (
    <ol className="max-h-96 space-y-2 overflow-auto" aria-label="Groups">
      {groups.map((g, i) => (
        <li key={g.key} aria-label={`Group ${i + 1}`} className="rounded border border-line bg-paper p-2">
          <p className="text-sm text-soft">Group {i + 1}</p>
          <ul>{g.members.map((s) => line(s, i))}</ul>
        </li>
      ))}
      {alone.length > 0 && (
        <li aria-label="In no group" className="rounded border border-dashed border-line-strong p-2">
          <p className="text-sm text-soft">In no group</p>
          <ul>{alone.map((s) => line(s, null))}</ul>
        </li>
      )}
    </ol>
  );
}
