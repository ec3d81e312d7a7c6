import { spawnSync } from 'node:child_process';
import { build, checkDisk, checkNode, installDebian, installNpm, ROOT, run } from './machine.mjs';
import { main, Stop } from './say.mjs';

/** npm test: lint and types, then all tests, the browser's too. `npm test -- core` runs only what Vitest or Playwright call by that name. */
await main(async () => {
  checkNode();
  checkDisk();
  installDebian(true);
  installNpm();
  run('npx', ['biome', 'check', '--error-on-warnings', '.']);
  build();
  run('npx', ['tsc', '-b']);
  const failed = [
    ['vitest', 'run'],
    ['playwright', 'test', '--config', 'e2e/playwright.config.ts'],
  ].filter(
    ([command, ...args]) =>
      spawnSync('npx', [command, ...args], { cwd: ROOT, stdio: 'inherit' }).status !== 0,
  );
  if (failed.length)
    throw new Stop(`Tests failed: ${failed.map(([c]) => c).join(' and ')}. What they say stands above.`);
  console.log('All tests passed.');
});
