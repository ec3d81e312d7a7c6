import { build, checkNode } from './machine.mjs';
import { main } from './say.mjs';

await main(async () => {
  checkNode();
  build();
});
