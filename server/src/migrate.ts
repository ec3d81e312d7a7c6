import { parseArgs } from 'node:util';
import { openDatabase } from './database/connect.ts';
import { migrate, migrateDown } from './database/migrate.ts';
import { readSettings } from './settings.ts';

/** Brings the database's schema up to date without a server: npm run migrate; or back by some steps: npm run migrate -- --down 1. */
const { values } = parseArgs({ options: { down: { type: 'string' } } });
const steps = values.down === undefined ? 0 : Number(values.down);
if (!Number.isInteger(steps) || steps < 0 || (values.down !== undefined && steps === 0)) {
  console.error(
    'Usage: npm run migrate [-- --down STEPS]   (dump the database first: what an older form cannot hold goes)',
  );
  process.exit(2);
}
const db = await openDatabase(readSettings(process.env).databaseUrl, { migrate: false });
try {
  if (steps) await migrateDown(db, steps);
  else await migrate(db);
  console.log(
    steps ? `The schema is ${steps} ${steps === 1 ? 'step' : 'steps'} back.` : 'The schema is up to date.',
  );
} finally {
  await db.destroy();
}
