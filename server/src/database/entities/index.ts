import type { Table } from '../columns.ts';
import { ASSIGNMENT } from './assignment.ts';
import { BANK } from './bank.ts';
import { BLOB } from './blob.ts';
import { CONVERSATION } from './conversation.ts';
import { COPY_WORK } from './copy-work.ts';
import { DOCUMENT } from './document.ts';
import { HAND_IN } from './hand-in.ts';
import { LOG } from './log.ts';
import { MACHINERY } from './machinery.ts';
import { MARKING } from './marking.ts';
import { NEWS } from './news.ts';
import { PEOPLE } from './people.ts';
import { REGISTER } from './register.ts';
import { VOICE } from './voice.ts';

export * from './assignment.ts';
export * from './bank.ts';
export * from './blob.ts';
export * from './conversation.ts';
export * from './copy-work.ts';
export * from './document.ts';
export * from './hand-in.ts';
export * from './log.ts';
export * from './machinery.ts';
export * from './marking.ts';
export * from './news.ts';
export * from './people.ts';
export * from './register.ts';
export * from './voice.ts';

/** All tables. Their history is in `migrations/`; a test holds the two against each other. */
export const TABLES = [
  ...PEOPLE,
  ...REGISTER,
  ...ASSIGNMENT,
  ...BLOB,
  ...DOCUMENT,
  ...COPY_WORK,
  ...HAND_IN,
  ...MARKING,
  ...CONVERSATION,
  ...BANK,
  ...VOICE,
  ...NEWS,
  ...LOG,
  ...MACHINERY,
] as readonly Table<object>[];
