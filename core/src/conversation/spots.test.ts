import { expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { Message, MessagePlace } from '../contract/message.ts';

import type { DocumentId, MarkId, MessageId } from '../ids/id.ts';
import { spotsOf } from './spots.ts';

const [sheet, shown, file] = [1, 2, 3].map((n) => testId<DocumentId>(n)) as [
  DocumentId,
  DocumentId,
  DocumentId,
];
const said = (n: number, place: Partial<MessagePlace> | null, over: Partial<Message> = {}): Message => ({
  id: testId<MessageId>(n),
  by: 'Tove Example',
  mine: false,
  at: n,
  words: `word ${n}`,
  cover: false,
  place: place && { document: sheet, page: 0, x: 100, y: 100, ...place },
  act: null,
  unread: false,
  seenAt: null,
  edited: false,
  withdrawn: false,
  ...over,
});

test('words said at a place stand at that place of what shows the worksheet now; those close to each other at one spot', () => {
  const all = [
    said(1, {}),
    said(2, { x: 110, y: 109 }),
    said(3, { x: 115 }),
    said(4, { page: 1 }),
    said(5, { document: file, x: 5 }),
    said(6, null),
    said(7, { mark: testId<MarkId>(9) }),
    said(8, {}, { act: 'accepted', words: '' }),
  ];
  const spots = spotsOf(all, [{ document: shown, from: sheet, questions: [], flows: [], notes: [] }]);
  expect(spots.map((s) => [s.document, s.page, s.x, s.messages.map((m) => m.at)])).toEqual([
    [shown, 0, 100, [1, 2]],
    [shown, 0, 115, [3]],
    [shown, 1, 100, [4]],
    [file, 0, 5, [5]],
  ]);
});

test('a student’s own note is a spot before anybody says anything; what is said there stands with it', () => {
  const note = { page: 0, x: 100, y: 50, words: 'Put here on purpose' };
  const filled = [{ document: shown, from: sheet, questions: [], flows: [], notes: [note] }];
  expect(spotsOf([], filled)).toMatchObject([{ document: shown, note: note.words, messages: [] }]);
  const at = said(9, { document: shown, page: 0, x: 102, y: 50 });
  expect(spotsOf([at], filled)).toMatchObject([{ note: note.words, messages: [{ at: 9 }] }]);
});
