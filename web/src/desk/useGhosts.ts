import type { Desk } from '@jotmark/core';
import { type ComponentType, createElement, useMemo } from 'react';
import { type GhostsProps, PhraseGhosts } from '../bank/PhraseGhosts.tsx';

/** What stands below a comment while it is written at this desk: the same component as long as the copy is the same. */
export function useGhosts(desk: Desk): ComponentType<GhostsProps> {
  const { given } = desk.student;
  const handInId = desk.handIn.id;
  return useMemo(
    () => (p: GhostsProps) => createElement(PhraseGhosts, { ...p, name: given, handInId }),
    [given, handInId],
  );
}
