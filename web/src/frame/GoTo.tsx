import type { Role } from '@jotmark/core';
import { Menu as Lines } from 'lucide-react';
import { useNavigate } from 'react-router';
import { Menu } from './menu.tsx';

const PLACES: Readonly<Record<Role, readonly (readonly [words: string, to: string])[]>> = {
  teacher: [
    ['Today', '/'],
    ['Classes', '/classes'],
    ['Worksheets', '/worksheets'],
    ['Rubrics', '/rubrics'],
    ['Comment bank', '/bank'],
    ['News', '/news'],
    ['My account', '/account'],
  ],
  administrator: [
    ['People', '/'],
    ['My account', '/account'],
  ],
  student: [
    ['My work', '/'],
    ['My feedback', '/feedback'],
    ['News', '/news'],
    ['My account', '/account'],
  ],
};

/** From everywhere to every main view, and out. */
export function GoTo({ role, onOut }: { role: Role; onOut(): void }) {
  const navigate = useNavigate();
  return (
    <Menu
      label="Go to"
      told
      className="grid size-9 shrink-0 place-items-center rounded text-soft hover:bg-action-wash hover:text-action"
      to="bottom start"
      wide="w-48"
      entries={[
        ...PLACES[role].map(([words, to]) => ({ key: to, words, onClick: () => void navigate(to) })),
        { key: 'out', words: 'Sign out', parted: true, onClick: onOut },
      ]}
    >
      <Lines size={20} aria-hidden="true" />
    </Menu>
  );
}
