import {
  type ChangeId,
  type CopyId,
  inGroups,
  type Person,
  type PersonId,
  type QuestionId,
  type WorksheetId,
} from '@jotmark/core';
import {
  addWorksheet,
  handIn,
  makeWritingPages,
  newId,
  readWorksheet,
  setAssignment,
  TEXT_FIELD,
  takeCopyChanges,
} from '@jotmark/server';
import * as Y from 'yjs';
import type { SchoolHouse } from './pile.ts';
import type { Setting } from './setting.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const eveningOf = (at: number) => Math.floor(at / DAY) * DAY + 18 * HOUR;

/** One paragraph or heading of a text that somebody types. */
export interface Typed {
  readonly heading?: true;
  readonly words: string;
  /** Of these words of it something is noted. */
  readonly noted?: { readonly about: string; readonly note: string };
}

/** Somebody who types into a text that grows, as a browser does: a few words at a time, each time a change. */
class Typist {
  readonly #doc = new Y.Doc();
  readonly #house: SchoolHouse;
  readonly #copyId: CopyId;
  readonly #question: QuestionId;

  constructor(house: SchoolHouse, copyId: CopyId, question: QuestionId) {
    this.#house = house;
    this.#copyId = copyId;
    this.#question = question;
  }

  /** Types what is said, beginning at a moment, and gives when it was done. */
  async type(by: PersonId, blocks: readonly Typed[], pause: () => number): Promise<void> {
    for (const block of blocks) {
      const text = await this.#step(by, () => {
        const element = new Y.XmlElement(block.heading ? 'heading' : 'paragraph');
        if (block.heading) element.setAttribute('level', 2 as never);
        this.#doc.getXmlFragment(TEXT_FIELD).push([element]);
        const made = new Y.XmlText();
        element.push([made]);
        return made;
      });
      const words = block.words.split(' ');
      for (let n = 0; n < words.length; n += 7) {
        const part = words.slice(n, n + 7).join(' ');
        await this.#step(by, () => text.insert(text.length, n ? ` ${part}` : part));
        this.#house.setClock(this.#house.now() + pause());
      }
      const { noted } = block;
      if (noted)
        await this.#step(by, () =>
          text.format(block.words.indexOf(noted.about), noted.about.length, { note: { words: noted.note } }),
        );
    }
  }

  async #step<T>(by: PersonId, write: () => T): Promise<T> {
    const before = Y.encodeStateVector(this.#doc);
    const out = this.#doc.transact(write);
    const update = Buffer.from(Y.encodeStateAsUpdate(this.#doc, before)).toString('base64');
    const change = {
      id: newId<ChangeId>(this.#house),
      base: null,
      type: 'text' as const,
      question: this.#question,
      update,
    };
    await takeCopyChanges(this.#house, this.#copyId, [change], by);
    return out;
  }
}

async function pages(
  { house, teacher }: Setting,
  assignmentId: Parameters<typeof makeWritingPages>[2],
  words: number,
): Promise<{ worksheetId: WorksheetId; question: QuestionId }> {
  const worksheetId = await makeWritingPages(house, teacher.id, assignmentId, words);
  for (let tries = 0; tries < 1200; tries++) {
    const { document, questions } = await readWorksheet(house, teacher, worksheetId);
    if (document.reading.state === 'done') return { worksheetId, question: questions[0]!.id };
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('The pages to write on could not be made');
}

const LIGHT: readonly Typed[] = [
  { heading: true, words: 'The keeper’s garden' },
  {
    words:
      'Behind the lighthouse, where the wall is highest, there is a garden that nobody on the ferry can see. You have to go round the lamp house and then down four steps that are cut into the rock. The last one is broken, so you jump.',
    noted: { about: 'four steps', note: 'I counted them twice, the map says five.' },
  },
  {
    words:
      'My grandmother worked there when she was as old as I am now. She says that the keeper’s wife grew beans along the wall, because the stone keeps the warmth of the day until long after dark. In the evening you could lean against it and feel the afternoon in your back.',
  },
  {
    words:
      'Today the beds are overgrown, and the gate hangs on one hinge only. But the wall still works: in March, when there is frost on the harbour, the first primroses open there. I go on Saturdays with my brother. He looks for snails and I sit on the bottom step and write down which birds come.',
  },
  { heading: true, words: 'Why I chose it' },
  {
    words:
      'I chose the garden because it is the only place on the island where you hear the sea and do not see it. That changes how big everything sounds. When I am angry I go there and after a while I am only cold, and then I go home.',
    noted: { about: 'only cold', note: 'This is the sentence I wrote first. Everything else came round it.' },
  },
];

const FERRY: readonly Typed[] = [
  { heading: true, words: 'Car deck, row three' },
  {
    words:
      'Most people go up to the lounge as soon as the ramp is closed. I stay on the car deck, in row three, because my father works there and because it is the best place of the whole ferry.',
  },
  {
    words:
      'When the engine starts, all the cars shake a little, each in its own way. The small ones rattle and the vans hum. If you put your hand flat on a bonnet you can feel which captain is on duty, he says. I do not believe it, but I always try.',
  },
  {
    words:
      'In winter the deck is dark at four o’clock and the lamps along the wall are orange. Then it looks like a street that goes nowhere. The chains swing all at once when we leave the harbour.',
  },
];

const HALF: readonly Typed[] = [
  { heading: true, words: 'Under the pier' },
  {
    words:
      'At low tide you can walk under the pier from one end to the other if you are quick. The light comes down in stripes and the stripes move',
  },
];

/** Sets something to be written on lined pages. */
async function setLong(s: Setting, words: number, about: Parameters<typeof setAssignment>[1]) {
  const { house } = s;
  let question: QuestionId | null = null;
  const set = await setAssignment(house, about, async (id) => {
    const made = await pages(s, id, words);
    question = made.question;
    await addWorksheet(house, id, made.worksheetId);
  });
  if (!question) throw new Error(`"${about.title}" has no pages to write on`);
  return { set, question: question as QuestionId };
}

/** An essay that a class writes: two have handed it in, some are at it, one has just begun. */
export async function essays(
  s: Setting,
  classId: Parameters<typeof setAssignment>[1]['classId'],
  students: readonly Person[],
  now: number,
): Promise<void> {
  const { house, chance } = s;
  house.setClock(now - 3 * DAY);
  const { set, question } = await setLong(s, 300, {
    classId,
    title: 'A place I know well',
    instructions:
      'Write about a place on the island that you know better than anybody. About 300 words. Note beside two of your sentences why they stand where they stand.',
    dueAt: eveningOf(now + 4 * DAY),
    most: 2000,
    category: 'homework',
  });
  const pause = () => chance.between(4000, 20_000);
  const writes = async (n: number, blocks: readonly Typed[], at: number) => {
    house.setClock(at);
    const { id } = students[n]!;
    await new Typist(house, set.copies.get(id)!, question).type(id, blocks, pause);
  };
  await writes(1, LIGHT, now - 30 * HOUR);
  await writes(6, FERRY, now - 7 * HOUR);
  await writes(13, HALF, now - 0.2 * HOUR);
  house.setClock(now - 6 * HOUR);
  for (const n of [1, 6])
    await handIn(house, students[n]!, set.copies.get(students[n]!.id)!, {
      id: newId(house),
      cover: n === 1 ? 'It got longer than 300 words. Is that all right?' : '',
      claimedAt: null,
    });
}

const SEEN: readonly Typed[] = [
  { heading: true, words: 'What we saw' },
  {
    words: 'We looked at pool two from nine until half past ten. The water stood at 14 degrees when we came.',
  },
];
const COUNTED: readonly Typed[] = [
  { words: 'There were eleven limpets, all on the shaded side, and two crabs under the flat stone.' },
];
const MEANT: readonly Typed[] = [
  { heading: true, words: 'What we think' },
  {
    words:
      'The limpets sit where the sun does not come, because there they do not dry out before the tide is back.',
  },
];

/** A report in groups of three: one group has written it together and handed it in, another has begun. */
export async function reports(
  s: Setting,
  classId: Parameters<typeof setAssignment>[1]['classId'],
  students: readonly Person[],
  now: number,
): Promise<void> {
  const { house, chance } = s;
  house.setClock(now - 2 * DAY);
  const groups = inGroups(
    students.map((p) => p.id),
    3,
  );
  const { set, question } = await setLong(s, 250, {
    classId,
    title: 'Tide pools: our report',
    instructions:
      'Write one report together: what you saw, what you counted, what you think. Decide who writes what.',
    dueAt: eveningOf(now + 6 * DAY),
    most: 1000,
    category: 'project',
    together: { most: 3, chosenUntil: null, groups },
  });
  const pause = () => chance.between(4000, 20_000);
  const [first, second] = groups;
  const one = new Typist(house, set.copies.get(first![0]!)!, question);
  for (const [i, blocks] of [SEEN, COUNTED, MEANT].entries()) {
    house.setClock(now - (9 - i) * HOUR);
    await one.type(first![i % first!.length]!, blocks, pause);
  }
  const by = students.find((p) => p.id === first![0])!;
  await handIn(house, by, set.copies.get(by.id)!, { id: newId(house), cover: '', claimedAt: null });
  house.setClock(now - 2 * HOUR);
  await new Typist(house, set.copies.get(second![0]!)!, question).type(second![0]!, SEEN.slice(0, 1), pause);
}
