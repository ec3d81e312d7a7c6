import * as z from 'zod';

/** Any id of ours: a UUID of version 7 in lower case, so that ids sort by the time they were made. */
const uuid7 = /^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/;

const id = <B extends string>(_brand: B) => z.string().regex(uuid7).brand<B>();

export const PersonId = id('PersonId');
export type PersonId = z.infer<typeof PersonId>;
export const ClassId = id('ClassId');
export type ClassId = z.infer<typeof ClassId>;
export const AssignmentId = id('AssignmentId');
export type AssignmentId = z.infer<typeof AssignmentId>;
export const CopyId = id('CopyId');
export type CopyId = z.infer<typeof CopyId>;
export const HandInId = id('HandInId');
export type HandInId = z.infer<typeof HandInId>;
export const HandBackId = id('HandBackId');
export type HandBackId = z.infer<typeof HandBackId>;
export const DocumentId = id('DocumentId');
export type DocumentId = z.infer<typeof DocumentId>;
export const MarkId = id('MarkId');
export type MarkId = z.infer<typeof MarkId>;
export const ChangeId = id('ChangeId');
export type ChangeId = z.infer<typeof ChangeId>;
export const QuestionId = id('QuestionId');
export type QuestionId = z.infer<typeof QuestionId>;
export const WorksheetId = id('WorksheetId');
export type WorksheetId = z.infer<typeof WorksheetId>;
export const VersionId = id('VersionId');
export type VersionId = z.infer<typeof VersionId>;
export const MaterialId = id('MaterialId');
export type MaterialId = z.infer<typeof MaterialId>;
export const MessageId = id('MessageId');
export type MessageId = z.infer<typeof MessageId>;
export const ConsentId = id('ConsentId');
export type ConsentId = z.infer<typeof ConsentId>;
export const TrayId = id('TrayId');
export type TrayId = z.infer<typeof TrayId>;
export const MarkingId = id('MarkingId');
export type MarkingId = z.infer<typeof MarkingId>;
export const RubricId = id('RubricId');
export type RubricId = z.infer<typeof RubricId>;
export const RubricVersionId = id('RubricVersionId');
export type RubricVersionId = z.infer<typeof RubricVersionId>;
export const EveningId = id('EveningId');
export type EveningId = z.infer<typeof EveningId>;
export const CriterionId = id('CriterionId');
export type CriterionId = z.infer<typeof CriterionId>;
export const LevelId = id('LevelId');
export type LevelId = z.infer<typeof LevelId>;
export const PhraseId = id('PhraseId');
export type PhraseId = z.infer<typeof PhraseId>;
export const HandBackOrderId = id('HandBackOrderId');
export type HandBackOrderId = z.infer<typeof HandBackOrderId>;
export const MailId = id('MailId');
export type MailId = z.infer<typeof MailId>;
export const RemarkId = id('RemarkId');
export type RemarkId = z.infer<typeof RemarkId>;
export const RemarkAnswerId = id('RemarkAnswerId');
export type RemarkAnswerId = z.infer<typeof RemarkAnswerId>;
export const JobId = id('JobId');
export type JobId = z.infer<typeof JobId>;

const HEX = Array.from({ length: 256 }, (_, byte) => byte.toString(16).padStart(2, '0'));

/**
 * A UUID of version 7 (RFC 9562, section 5.7): 48 bits of Unix time in milliseconds, then random bits.
 * `now` is in milliseconds, `random` at least 10 random bytes; a shorter array throws.
 */
export function makeId(now: number, random: Uint8Array): string {
  if (random.length < 10) throw new Error(`makeId needs 10 random bytes, got ${random.length}`);
  const bytes = new Uint8Array(16);
  let t = Math.max(0, Math.floor(now));
  for (let i = 5; i >= 0; i--) {
    bytes[i] = t % 256;
    t = Math.floor(t / 256);
  }
  bytes.set(random.subarray(0, 10), 6);
  bytes[6] = 0x70 | (bytes[6]! & 0x0f);
  bytes[8] = 0x80 | (bytes[8]! & 0x3f);
  let hex = '';
  for (const byte of bytes) hex += HEX[byte];
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`;
}

/** When an id was made, in milliseconds: by the clock of the device that made it. */
export const timeOfId = (id: string): number => Number.parseInt(id.slice(0, 8) + id.slice(9, 13), 16);
