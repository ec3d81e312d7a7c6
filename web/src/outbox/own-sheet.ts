import type { CopyId } from '@jotmark/core';
import type { SheetId, TrialId } from './device.ts';

/** The sheet of one's own copy: a student's goes by the copy, a teacher's in a trial run is told from the markings among which it lies. */
export const ownSheet = (copyId: CopyId, student: boolean): SheetId =>
  student ? copyId : (`trial:${copyId}` as TrialId);

export const isTrial = (id: string): boolean => id.startsWith('trial:');

/** The copy that such a sheet is of. */
export const copyOfOwn = (id: string): CopyId => (isTrial(id) ? id.slice('trial:'.length) : id) as CopyId;
