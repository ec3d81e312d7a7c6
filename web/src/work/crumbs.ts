import type { Work } from '@jotmark/core';
import type { Crumb } from '../frame/TopBar.tsx';

/** Where a copy lies: among a student's work, or in a trial run behind the assignment that its teacher tries out. */
export const crumbsOf = ({ row, trialOf }: Pick<Work, 'row' | 'trialOf'>): Crumb[] => [
  trialOf ? { text: 'Trial run', to: `/assignments/${trialOf}` } : { text: 'My work', to: '/' },
  { text: row.assignment.title || 'Without a title yet' },
];
