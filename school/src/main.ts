import { readSettings, serve } from '@jotmark/server';
import { fillSchool, isEmpty } from './fill/fill.ts';

/** Fills the demo school into the database at DATABASE_URL if it is empty. */
const settings = readSettings(process.env);
const running = await serve({ ...settings, port: 0, webDir: null, workers: 2 });
try {
  if (await isEmpty(running.house)) {
    const show = process.stdout.isTTY ? (text: string) => process.stdout.write(`\r\x1b[K${text}`) : () => {};
    await fillSchool(running.house, show);
    console.log(`${process.stdout.isTTY ? '\r\x1b[K' : ''}The demo school is filled in.`);
  }
} finally {
  await running.stop();
}
