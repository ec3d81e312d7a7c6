import { parseArgs } from 'node:util';
import { pino } from 'pino';
import { openBatchPool } from './database/batch-pool.ts';
import { openDatabase } from './database/connect.ts';
import { codeOf } from './database/transaction.ts';
import { troubleWith } from './people/good-password.ts';
import { addPerson } from './people/person.ts';
import { readSettings } from './settings.ts';

/**
 * Adds a teacher's account, or the first administrator's: npm run teacher -- --login quill --given Ada --family Quill [--administrator]; the password comes from the
 * environment.
 */
const { values } = parseArgs({
  options: {
    login: { type: 'string' },
    given: { type: 'string' },
    family: { type: 'string' },
    administrator: { type: 'boolean', default: false },
  },
});
const password = process.env.TEACHER_PASSWORD ?? '';
if (!values.login || !values.given || !values.family || troubleWith(password, values.login)) {
  console.error(
    'Usage: TEACHER_PASSWORD=… npm run teacher -- --login NAME --given NAME --family NAME [--administrator]   (password: 10 characters or more, not the login, not one of the commonest)',
  );
  process.exit(2);
}
const settings = readSettings(process.env);
const db = await openDatabase(settings.databaseUrl);
const batches = openBatchPool(settings.databaseUrl);
try {
  const house = { db, batches, settings, log: pino({ level: 'silent' }), now: Date.now };
  const person = await addPerson(house, {
    role: values.administrator ? 'administrator' : 'teacher',
    login: values.login,
    given: values.given,
    family: values.family,
    password,
  });
  console.log(`${person.given} ${person.family} can sign in as ${person.login}.`);
} catch (error) {
  if (codeOf(error) !== 'ER_DUP_ENTRY') throw error;
  console.error(`The login ${values.login} is taken. Choose another.`);
  process.exitCode = 1;
} finally {
  await batches.end();
  await db.destroy();
}
