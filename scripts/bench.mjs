import { build, checkNode, installDebian, installNpm, ROOT, run } from './machine.mjs';
import { main } from './say.mjs';

/** npm run bench: builds, then measures; `npm run bench -- ink` measures one part. */
await main(async () => {
  checkNode();
  installDebian(true);
  installNpm();
  build();
  run('npx', ['vite', 'build', '--config', 'bench/bare/vite.config.ts', '--logLevel', 'error'], ROOT);
  run('npx', ['tsx', 'bench/main.ts', ...process.argv.slice(2)], ROOT);
});
