import {
  type CopyId,
  type DocumentId,
  isMarginMark,
  leadPoint,
  type Mark,
  type MessageAct,
  type MessagePlace,
  type Person,
  type Question,
  quoteIn,
} from '@jotmark/core';
import { addMessage } from '@jotmark/server';
import { ANSWERS } from '../answers/answers.ts';
import type { SchoolHouse } from './pile.ts';

interface Words {
  readonly house: SchoolHouse;
  readonly teacher: Person;
  /** Copies that came back, with their marks. */
  readonly back: readonly {
    readonly copyId: CopyId;
    readonly student: Person;
    readonly marks: readonly Mark[];
  }[];
  /** A copy that is being written. */
  readonly live: {
    readonly copyId: CopyId;
    readonly document: DocumentId;
    readonly questions: readonly Question[];
  };
  readonly at: number;
}

/** What is said at its place: while one writes, and about notes of work that came back. */
export async function someWords({ house, teacher, back, live, at }: Words): Promise<void> {
  const say = (
    by: Person,
    copyId: CopyId,
    words: string,
    place: MessagePlace,
    act: MessageAct | null = null,
  ) => addMessage(house, house.db.manager, { copyId, by: by.id, words, cover: false, place, act });
  house.setClock(at);
  const [, second, third] = live.questions;
  const besides = (q: Question): MessagePlace => ({
    document: live.document,
    page: q.page,
    x: Math.round(q.box[2] - 30),
    y: Math.round(q.box[1]),
  });
  await say(
    teacher,
    live.copyId,
    'Both legs are here. Do they **add up** to what you write below?',
    besides(second!),
  );
  const text = ANSWERS['A walk to the lighthouse']!['3']![0]!.text;
  const from = text.lastIndexOf('45 minutes');
  const quote = quoteIn(text, from, from + '45 minutes'.length)!;
  await say(teacher, live.copyId, 'Say that this is the sum.', {
    ...besides(third!),
    quote,
    instead: { kind: 'swap', words: 'Together 45 minutes' },
  });

  const noted = back.filter((b) => b.marks.some(isMarginMark)).slice(0, 3);
  for (const [i, { copyId, student, marks }] of noted.entries()) {
    const mark = marks.find(isMarginMark)!;
    const [x, y] = leadPoint(mark);
    const place = {
      document: mark.document,
      page: mark.page,
      x: Math.round(x),
      y: Math.round(y),
      mark: mark.id,
    };
    if (i === 0) {
      await say(student, copyId, 'I read up first, like in a table. Is it always along first?', place);
      await say(teacher, copyId, 'Always. Say it to yourself: along the corridor, up the stairs.', place);
    } else if (i === 1) await say(student, copyId, '', place, 'sorted');
    else await say(student, copyId, 'Can I do it again?', place);
  }
}
