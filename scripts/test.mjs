import { build, checkDisk, checkNode, installDebian, installNpm, run } from './machine.mjs';
import { main, Stop } from './say.mjs';
import { runTests } from './teller.mjs';

/** npm test: lint and types, then all tests, the browser's too. What failed is said once more at the end. */
await main(async () => {
  checkNode();
  checkDisk();
  installDebian(true);
  installNpm();
  run('npx', ['biome', 'check', '--error-on-warnings', '.']);
  build();
  run('npx', ['tsc', '-b']);
  const failures = [
    await runTests('vitest', 'run'),
    await runTests('playwright', 'test', '--config', 'e2e/playwright.config.ts'),
  ].filter((said) => said !== null);
  if (failures.length) throw new Stop(`Tests failed.\n\n${failures.join('\n\n')}`);
  console.log('All tests passed.');
});
