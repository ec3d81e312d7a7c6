import type { House } from '@jotmark/server';
import { makeLesson } from './lesson.ts';
import { type Class, expect } from './story.ts';

/** Longer than that no browser takes for anything. */
export const PATIENCE = 60_000;

/** Somebody in a browser of another maker: things are found by what they are called, or by the words that stand in them. */
export interface Visitor {
  opens(path: string): Promise<unknown>;
  reloads(): Promise<unknown>;
  /** The button of this name. */
  presses(name: string): Promise<void>;
  /** The main button of the dialog that is open. */
  confirms(): Promise<void>;
  /** The link, or what else is pressed, in which these words stand. */
  follows(words: string, what?: 'a' | 'button'): Promise<void>;
  types(label: string, words: string): Promise<void>;
  /** Keys one after the other, wherever one is. */
  keys(...keys: readonly string[]): Promise<void>;
  controlEnter(): Promise<void>;
  /** With the mouse on the first page, in shares of its shown size. */
  clicks(at: readonly [number, number]): Promise<void>;
  drags(from: readonly [number, number], to: readonly [number, number]): Promise<void>;
  /** What is on the screen, as text. */
  text(): Promise<string>;
  /** Waits until something stands there. */
  stands(css: string): Promise<void>;
  /** What the browser complained of. */
  readonly errors: readonly string[];
}

const sees = (who: Visitor, words: string) =>
  expect.poll(() => who.text(), { timeout: PATIENCE }).toContain(words);
const drawn = (who: Visitor) => who.stands('canvas[data-drawn]');

/** Work is filled in and handed in, marked with pen and note, handed back, read and acted on. `enter` brings somebody in, signed in by the form. */
export async function mainStory(
  { house, c, file }: { house: House; c: Class; file: string },
  enter: (login: string) => Promise<Visitor>,
): Promise<void> {
  const errors: string[] = [];
  const visit = async (login: string, story: (who: Visitor) => Promise<void>) => {
    const who = await enter(login);
    await sees(who, 'Sign out');
    await story(who);
    errors.push(...who.errors);
  };
  const { title, assignmentId } = await makeLesson(house, c, file);

  await visit(c.students[0]!, async (ada) => {
    await ada.follows(title);
    await drawn(ada);
    await ada.types('Answer to 1', 'Tarn Hut');
    await ada.types('Answer to 2', 'about 3 km');
    await ada.presses('Hand in');
    await ada.confirms();
    await sees(ada, 'Handed in');
  });

  await visit(c.teacher, async (teacher) => {
    await teacher.opens(`/piles/${assignmentId}`);
    await teacher.follows(', Ada');
    await drawn(teacher);
    await teacher.stands('[role="toolbar"][aria-label="Pen tray"]');
    await teacher.keys('1');
    await teacher.drags([0.2, 0.4], [0.5, 0.42]);
    await sees(teacher, '1 mark, 0 notes');
    await teacher.keys('5');
    await teacher.clicks([0.5, 0.25]);
    await teacher.types('Words of the note', 'Count the squares again.');
    await teacher.keys('Escape');
    await sees(teacher, '2 marks, 1 note');
    await teacher.keys('g', '2', 'Enter');
    await sees(teacher, 'Saved');
    // What was drawn is there when the page is opened anew.
    await teacher.reloads();
    await drawn(teacher);
    await sees(teacher, '2 marks, 1 note');
    await teacher.stands('[role="toolbar"][aria-label="Pen tray"]');
    await teacher.controlEnter();
    await sees(teacher, 'Hand back 1 copy');
    await teacher.presses('Hand back 1 copy');
    await teacher.confirms();
    await sees(teacher, '1 copy handed back, looked at: 0.');
  });

  await visit(c.students[0]!, async (ada) => {
    await ada.follows(title);
    await drawn(ada);
    await ada.follows('Count the squares again.', 'button');
    await ada.types('Answer', 'Four, I see now.');
    await ada.controlEnter();
    await sees(ada, 'not read yet');
    await ada.presses('Sorted');
    await sees(ada, '1 of 1 done');
    await sees(ada, 'Improve and hand in again');
  });

  await visit(c.teacher, (teacher) => sees(teacher, 'Four, I see now.'));
  expect(errors).toEqual([]);
}
