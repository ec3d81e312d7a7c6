import type { BankShape, Change, ConversationShape, CopyId, PersonId, Work } from '@jotmark/core';
import type { Clash, SheetId } from './device.ts';
import type { WordLetter } from './letter.ts';

/** What the outbox tells whoever shows it. */
export type OutboxNews =
  | {
      readonly of: 'written';
      readonly sheetId: SheetId;
      readonly changes: readonly Change[];
      /** Whether its sheet is open in this tab, and shows them by itself. */
      readonly open: boolean;
    }
  | { readonly of: 'aside'; readonly clash: Clash }
  | {
      readonly of: 'handed-in';
      readonly personId: PersonId;
      readonly copyId: CopyId;
      readonly work: Work;
      readonly waited: boolean;
    }
  | { readonly of: 'hand-in-refused'; readonly copyId: CopyId; readonly error: unknown }
  | { readonly of: 'said'; readonly copyId: CopyId; readonly conversation: ConversationShape }
  | {
      readonly of: 'word-refused';
      readonly personId: PersonId;
      readonly copyId: CopyId;
      readonly letter: WordLetter;
      readonly error: unknown;
    }
  | { readonly of: 'opened'; readonly closed: number }
  | { readonly of: 'bank'; readonly bank: BankShape }
  | { readonly of: 'phrase-refused'; readonly words: string; readonly error: unknown };
