import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { readSettings, serve } from '@jotmark/server';
import { backFigures } from './back.ts';
import { bookFigures } from './books.ts';
import { changeFigures } from './changes.ts';
import { deskFigures } from './desk.ts';
import { exportFigures } from './export.ts';
import { type Figure, report } from './figures.ts';
import { inkFigures } from './ink.ts';
import { loadFigures } from './load.ts';
import { longFigures } from './long.ts';
import { manyFigures } from './many.ts';
import { outFigures } from './out.ts';
import { pageFigures } from './pages.ts';
import { roomFigures } from './room.ts';
import { scoreFigures } from './scores.ts';
import { settingFigures } from './setting.ts';
import { voiceFigures } from './voice.ts';
import { wireFigures } from './wire.ts';
import { wordFigures } from './words.ts';

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const { startMariaDb } = (await import(join(ROOT, 'scripts/mariadb.mjs'))) as {
  startMariaDb(dir: string): Promise<{ url(name: string): string; stop(): Promise<void> }>;
};
const dir = join(ROOT, '.test/bench');
rmSync(dir, { recursive: true, force: true });
const database = await startMariaDb(dir);
const running = await serve(
  readSettings({
    DATABASE_URL: database.url('bench'),
    PORT: '0',
    WEB_DIR: join(ROOT, 'web/dist'),
    STAND_IN_DIR: join(ROOT, 'school'),
    LOG_LEVEL: 'error',
  }),
);
const only = process.argv[2];
const parts: Record<string, () => Promise<Figure[]>> = {
  export: exportFigures,
  changes: () => changeFigures(running),
  pages: () => pageFigures(running),
  ink: () => inkFigures(running),
  desk: () => deskFigures(running),
  setting: () => settingFigures(running),
  room: () => roomFigures(running),
  many: () => manyFigures(running),
  wire: () => wireFigures(running),
  words: wordFigures,
  voice: () => voiceFigures(running),
  scores: () => scoreFigures(running),
  back: () => backFigures(running),
  long: () => longFigures(running),
  books: () => bookFigures(running),
  out: () => outFigures(running),
  school: () => loadFigures(running),
};
const figures: Figure[] = [];
for (const [name, part] of Object.entries(parts)) if (!only || only === name) figures.push(...(await part()));
const good = report(figures);
await running.stop();
await database.stop();
process.exit(good ? 0 : 1);
