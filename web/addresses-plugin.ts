import type { Plugin } from 'vite';
import { routes } from '../core/src/contract/routes.ts';

const ID = 'virtual:addresses';

/**
 * Where each route of the contract is, for the browser. The contract itself, with all that its routes take and give, is 15 kB of a first visit, and in the browser
 * nobody asks for it: what is sent is checked by the server, what comes is checked where it decides what is kept.
 */
export const addresses: Plugin = {
  name: 'addresses',
  resolveId: (id) => (id === ID ? `\0${ID}` : null),
  load: (id) =>
    id === `\0${ID}`
      ? `export default ${JSON.stringify(
          Object.fromEntries(Object.entries(routes).map(([name, r]) => [name, [r.method, r.path]])),
        )}`
      : null,
};
