import { DEMO_PASSWORD } from '@jotmark/server';
import { ANSWERS } from '../answers/answers.ts';
import { Chance } from '../chance.ts';
import { loginOf, STUDENTS } from '../people/people.ts';
import { SimulatedStudent } from './simulated-student.ts';

/** What the class is in the middle of. */
const TITLE = 'A walk to the lighthouse';
const AT_WORK = 14;

/** A class in the middle of a lesson, for the demo: some of 7K work on their copies over HTTP until they are stopped. */
const [address = 'http://127.0.0.1:4270'] = process.argv.slice(2);
const chance = new Chance(Date.now() % 1000);
const students = STUDENTS.filter((_, i) => i !== 3 && i !== 16).slice(0, AT_WORK);
const working: SimulatedStudent[] = [];
for (const person of students) {
  const student = new SimulatedStudent(address, {
    login: loginOf(person),
    password: DEMO_PASSWORD,
    answerTo: (_, i) => chance.pick(ANSWERS[TITLE]?.[String(i + 1)] ?? [{ text: '', points: 0 }]).text,
    pause: chance.between(400, 2600),
    letters: chance.int(2, 6),
    reply: chance.pick(['Thank you!', 'Along the path?', 'Ah, I see.', null]),
  });
  await student.signIn();
  const copyId = await student.copyCalled(TITLE);
  if (!copyId) continue;
  working.push(student);
  setTimeout(
    () => student.workOn(copyId).catch((error) => console.error(String(error))),
    chance.between(0, 20_000),
  );
}
console.log(`${working.length} students of 7K are at work on “${TITLE}”.`);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    for (const student of working) student.stop();
    process.exit(0);
  });
