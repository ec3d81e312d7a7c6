import { type CopyId, type HandBackId, type PersonId, VoiceType } from '@jotmark/core';
import { bytes, digest, id, int, maybe, moment, oneOf, primary, small, table } from '../columns.ts';

/** Something that was said. Its bytes are blobs; what is known of it (length, wave, captions) stands in the mark or slip that names it. */
export interface VoiceRow {
  sha256: string;
  type: VoiceType;
  ownerId: PersonId;
  keptAt: number;
  /** The same in a form that everything opens; null: not made yet. */
  plainSha256: string | null;
}
export const VoiceTable = table<VoiceRow>('voice', {
  sha256: primary(digest()),
  type: oneOf(VoiceType, 20),
  ownerId: id(),
  keptAt: moment(),
  plainSha256: maybe(digest()),
});

/** A part of a recording that is on its way. */
export interface VoicePartRow {
  ownerId: PersonId;
  sha256: string;
  n: number;
  bytes: Buffer;
  at: number;
}
export const VoicePartTable = table<VoicePartRow>('voice_part', {
  ownerId: primary(id()),
  sha256: primary(digest()),
  n: primary(small()),
  bytes: bytes(),
  at: moment(),
});

/** A recording that the marking of a copy names, or once named: its teachers may hear it. */
export interface VoiceOnCopyRow {
  sha256: string;
  copyId: CopyId;
}
export const VoiceOnCopyTable = table<VoiceOnCopyRow>(
  'voice_on_copy',
  { sha256: primary(digest()), copyId: primary(id()) },
  { copy: ['copy', 'copyId'] },
);

/** A recording that was handed back: its students may hear it. */
export interface VoiceHandedBackRow {
  sha256: string;
  handBackId: HandBackId;
}
export const VoiceHandedBackTable = table<VoiceHandedBackRow>(
  'voice_handed_back',
  { sha256: primary(digest()), handBackId: primary(id()) },
  { handBack: ['hand_back', 'handBackId'] },
);

/** How far a student has heard it, in ms from its beginning. */
export interface HeardRow {
  handBackId: HandBackId;
  sha256: string;
  personId: PersonId;
  reached: number;
  stoppedAt: number;
  at: number;
}
export const HeardTable = table<HeardRow>(
  'heard',
  {
    handBackId: primary(id()),
    sha256: primary(digest()),
    personId: primary(id()),
    reached: int(),
    stoppedAt: int(),
    at: moment(),
  },
  { handBack: ['hand_back', 'handBackId'] },
);

export const VOICE = [VoiceTable, VoicePartTable, VoiceOnCopyTable, VoiceHandedBackTable, HeardTable];
