import { pino } from 'pino';
import { openBatchPool } from './database/batch-pool.ts';
import { openDatabase } from './database/connect.ts';
import { PersonTable } from './database/entities/index.ts';
import { update } from './database/write.ts';
import { hashPassword } from './people/password.ts';
import { firstPassword } from './register/passwords.ts';
import { readSettings } from './settings.ts';
import { type ArchiveTrouble, NotRead, readArchive } from './take-out/read-archive.ts';

/** Reads a class's archive into this Jotmark: npm run read-class -- class.zip */
const [path] = process.argv.slice(2);
if (!path) {
  console.error('Usage: npm run read-class -- CLASS.zip');
  process.exit(2);
}

const SENTENCES: {
  readonly [W in ArchiveTrouble['why']]: (t: Extract<ArchiveTrouble, { why: W }>) => string;
} = {
  'no-archive': () => 'This file is no class archive of Jotmark.',
  'cut-off': () => 'This file was cut off, or is no zip. Fetch it once more.',
  newer: (t) => `This archive was made by a newer Jotmark (${t.step}). Bring this one up to date first.`,
  changed: (t) => `${t.part} is another than when the archive was made, or is missing. Fetch it once more.`,
  'there-already': (t) => `The class ${t.className} is here already.`,
  'login-taken': (t) => `The login ${t.login} belongs to somebody else here. Give them another one first.`,
};

const settings = readSettings(process.env);
const db = await openDatabase(settings.databaseUrl);
const batches = openBatchPool(settings.databaseUrl);
try {
  const house = { db, batches, settings, log: pino({ level: 'silent' }), now: Date.now };
  const { className, rows, files, people } = await readArchive(house, path);
  console.log(`${className} was read: ${rows} rows and ${files} files, ${people.length} people.`);
  console.log('Passwords are in no archive. First passwords of its teachers, shown only now:');
  for (const { id, login } of people.filter((p) => p.role === 'teacher')) {
    const password = firstPassword();
    await update(
      db.manager,
      PersonTable,
      { id },
      { passwordHash: await hashPassword(password), firstPassword: true },
    );
    console.log(`  ${login}: ${password}`);
  }
  console.log('Students get theirs from the register of the class.');
} catch (error) {
  if (!(error instanceof NotRead)) throw error;
  const { trouble } = error;
  console.error(`${(SENTENCES[trouble.why] as (t: ArchiveTrouble) => string)(trouble)} Nothing was changed.`);
  process.exitCode = 1;
} finally {
  await batches.end();
  await db.destroy();
}
