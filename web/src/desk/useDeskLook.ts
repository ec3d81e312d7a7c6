import type { Desk } from '@jotmark/core';
import { useMemo } from 'react';
import type { MarginLook } from '../margin/margin-look.ts';
import { NoteTools } from './NoteTools.tsx';
import type { DeskMarks } from './useDeskMarks.ts';
import type { DeskNotes } from './useDeskNotes.ts';
import type { DeskPaper } from './useDeskPaper.ts';
import { useTalks } from './useTalks.tsx';

interface Options {
  readonly paper: DeskPaper;
  readonly marks: DeskMarks;
  readonly notes: DeskNotes;
  readonly fixed: boolean;
}

/** How the margin looks on this desk: what can be done in it, and what was said below its notes. */
export function useDeskLook(desk: Desk, { paper, marks, notes, fixed }: Options) {
  const { onWords, onRemove, onFold, onRemake } = notes.does;
  const { below, saidHere } = useTalks(desk, marks.inMargin);
  const look = useMemo(
    (): MarginLook => ({
      ...paper.look,
      writing: fixed ? null : { onWords, onRemove, onFold, onRemake, Tools: NoteTools },
      below,
    }),
    [paper.look, fixed, onWords, onRemove, onFold, onRemake, below],
  );
  return { look, saidHere };
}
