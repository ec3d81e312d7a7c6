import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';

const WORTH_IT = 1000;

/** Lays beside each file of the built app its brotli and gzip form: made once here, not with every answer. */
export function squeeze(dir) {
  for (const name of readdirSync(dir, { recursive: true })) {
    const path = join(dir, name);
    if (!/\.(js|css|wasm|svg|html)$/.test(name) || statSync(path).size < WORTH_IT) continue;
    const bytes = readFileSync(path);
    // The last tenth of the engine's size would take ten seconds of building.
    const quality = name.endsWith('.wasm') ? 9 : 11;
    writeFileSync(
      `${path}.br`,
      brotliCompressSync(bytes, {
        params: {
          [constants.BROTLI_PARAM_QUALITY]: quality,
          [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length,
          [constants.BROTLI_PARAM_LGWIN]: 24,
        },
      }),
    );
    writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
  }
}
