import { DEMO_PASSWORD } from '@jotmark/server';
import { ANSWERS } from '../answers/answers.ts';
import { Chance } from '../chance.ts';
import { loginOf, STUDENTS } from '../people/people.ts';
import { SimulatedStudent } from './simulated-student.ts';

/** What the class is in the middle of. */
export const LESSON = 'A walk to the lighthouse';
const AT_WORK = 14;
/** Within so many milliseconds one after the other begins. */
const ARRIVING = 20_000;

/** A class in the middle of a lesson, for the demo: some of 7K work on their copies over HTTP until they are stopped. */
export async function startClass(address: string, seed = 1): Promise<SimulatedStudent[]> {
  const chance = new Chance(seed);
  const working: SimulatedStudent[] = [];
  for (const person of STUDENTS.filter((_, i) => i !== 3 && i !== 16).slice(0, AT_WORK)) {
    const student = new SimulatedStudent(address, {
      login: loginOf(person),
      password: DEMO_PASSWORD,
      answerTo: (_, i) => chance.pick(ANSWERS[LESSON]?.[String(i + 1)] ?? [{ text: '', points: 0 }]).text,
      pause: chance.between(400, 2600),
      letters: chance.int(2, 6),
      reply: chance.pick(['Thank you!', 'Along the path?', 'Ah, I see.', null]),
    });
    await student.signIn();
    const copyId = await student.copyCalled(LESSON);
    if (!copyId) continue;
    working.push(student);
    setTimeout(
      () => student.takeUp(copyId).catch((error) => console.error(String(error))),
      chance.between(0, ARRIVING),
    );
  }
  return working;
}
