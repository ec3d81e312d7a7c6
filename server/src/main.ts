import { codeOf } from './database/transaction.ts';
import { serve } from './serve.ts';
import { readSettings } from './settings.ts';

try {
  const settings = readSettings(process.env);
  const running = await serve(settings);
  console.log(`Jotmark serves on ${running.address}`);
  let stopping = false;
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.on(signal, () => {
      if (stopping) return;
      stopping = true;
      running.stop().then(
        () => process.exit(0),
        () => process.exit(1),
      );
    });
} catch (error) {
  const code = codeOf(error);
  const said =
    code === 'EADDRINUSE'
      ? `Port ${process.env.PORT ?? 4270} is in use by another program. Set PORT to a free one, e.g. PORT=4280 npm start`
      : code === 'ECONNREFUSED'
        ? 'No database answers at DATABASE_URL. Start MariaDB, or correct the address.'
        : error instanceof Error
          ? error.message
          : String(error);
  console.error(said);
  process.exit(1);
}
