import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import type { Logger } from 'typeorm';
import { bankNumbers } from './bank/bank.ts';
import { openBatchPool } from './database/batch-pool.ts';
import { databaseClock } from './database/clock.ts';
import { openDatabase } from './database/connect.ts';
import { Pulse } from './database/pulse.ts';
import type { House } from './house.ts';
import { makeApp } from './http/app.ts';
import { JobRunner } from './jobs/runner.ts';
import { Hub } from './live/hub.ts';
import { Lines } from './live/lines.ts';
import { SeqLine } from './live/seq-line.ts';
import { markingNumbers } from './marking/state.ts';
import { tellByTheClock } from './news/due.ts';
import { newsNumbers } from './news/read.ts';
import { canCutOff, WITH_NETWORK } from './office/convert.ts';
import { Opener } from './opening/opener.ts';
import { sweepFolders } from './programs/own-folder.ts';
import type { Settings } from './settings.ts';
import { sweep } from './sweep.ts';
import { makeKinds } from './tasks/kinds.ts';

export interface Running {
  readonly house: House;
  readonly address: string;
  readonly runner: JobRunner;
  readonly opener: Opener;
  /** Lets requests and jobs end, then closes everything. */
  stop(): Promise<void>;
}

/** Opens the database, brings it up to date, listens and works on jobs. */
export async function serve(
  settings: Settings,
  options: { now?: () => number; logger?: Logger } = {},
): Promise<Running> {
  const log = pino({ level: settings.logLevel, base: null, redact: ['*.password'] }, pino.destination(2));
  const db = await openDatabase(settings.databaseUrl, options.logger ? { logger: options.logger } : {});
  const batches = openBatchPool(settings.databaseUrl);
  const clock = await databaseClock(db);
  const house: House = { db, batches, settings, log, now: options.now ?? clock.now };
  sayHowOffice(house);
  const opener = new Opener(undefined, settings.officeWithNetwork ? { [WITH_NETWORK]: '1' } : {});
  // What a server that was killed left of students' work on this machine's disk.
  await sweepFolders().catch((error: unknown) =>
    log.warn({ err: error }, 'old folders could not be taken away'),
  );
  const runner = new JobRunner(house, makeKinds(opener), settings.workers);
  const hub = new Hub(house);
  const lines = new Lines();
  const pulse = new Pulse(settings.databaseUrl);
  let stopping = false;
  const deskLine = new SeqLine(house, 'seq', (ids) => markingNumbers(db.manager, ids));
  const bankLine = new SeqLine(house, 'bank', (ids) => bankNumbers(db.manager, ids));
  const newsLine = new SeqLine(house, 'news', (ids) => newsNumbers(db.manager, ids));
  const app = makeApp({
    house,
    hub,
    lines,
    pulse,
    stopping: () => stopping,
    deskLine,
    bankLine,
    newsLine,
    opener,
    nudge: () => runner.nudge(),
  });
  const server = createServer(app);
  // An upload of 50 MB on a slow line takes its time; headers do not.
  server.requestTimeout = 15 * 60_000;
  server.headersTimeout = 20_000;
  // Longer than browsers and proxies keep a line that is not used: who ends it first must be the one that does not send on it just then.
  server.keepAliveTimeout = 185_000;
  const recheck = setInterval(() => void lines.recheck(), RECHECK_MS);
  try {
    await listen(server, settings);
  } catch (error) {
    clearInterval(recheck);
    pulse.stop();
    await runner.stop();
    opener.close();
    clock.stop();
    await batches.end();
    await db.destroy();
    throw error;
  }
  const byTheClock = everyMinute(house, async () => {
    await tellByTheClock(house);
    await sweep(house);
  });
  const { port } = server.address() as AddressInfo;
  return {
    house,
    runner,
    opener,
    address: `http://${settings.host}:${port}`,
    stop: async () => {
      stopping = true;
      clearInterval(recheck);
      pulse.stop();
      hub.close();
      deskLine.close();
      bankLine.close();
      newsLine.close();
      byTheClock.stop();
      server.closeIdleConnections();
      const closed = new Promise((resolve) => server.close(resolve));
      setTimeout(() => server.closeAllConnections(), 2000).unref();
      await closed;
      await runner.stop();
      opener.close();
      clock.stop();
      await batches.end();
      await db.destroy();
    },
  };
}

/** Said at every start, so that nobody forgets it. */
function sayHowOffice({ log, settings }: House): void {
  if (settings.workers === 0 || canCutOff()) return;
  if (settings.officeWithNetwork)
    log.warn(
      'OFFICE_WITH_NETWORK is set, and LibreOffice cannot be kept from the network here: what an uploaded document names is fetched by this machine.',
    );
  else
    log.warn(
      'LibreOffice cannot be kept from the network here (unshare -rn is not allowed): office documents do not become pages. Allow it, or set OFFICE_WITH_NETWORK=1.',
    );
}

const MINUTE = 60_000;
/** Lines of which another server knows that they are over end after so long at the most. */
const RECHECK_MS = 20_000;

/** What comes by the clock is looked for as long as this server works on jobs. */
function everyMinute(house: House, work: () => Promise<void>): { stop(): void } {
  if (house.settings.workers === 0) return { stop: () => {} };
  const clock = setInterval(
    () => work().catch((error) => house.log.warn({ err: error }, 'news by the clock could not be told')),
    MINUTE,
  );
  return { stop: () => clearInterval(clock) };
}

function listen(server: Server, settings: Settings): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    // A whole school that comes at once waits in line; who finds it full comes again after seconds.
    server.listen({ port: settings.port, host: settings.host, backlog: 4096 }, () => resolve());
  });
}
