import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT } from './machine.mjs';

/**
 * Makes the sound of the stand-in microphone's sentences anew, with Debian's espeak-ng and opus-tools: one file for each, kept in `school/assets/voice/`
 * and shipped, so that nobody needs either program to run the demo. `node scripts/speak.mjs`, after the build.
 */
const { SENTENCES } = await import(join(ROOT, 'school/dist/voice/sentences.js'));
const folder = mkdtempSync(join(tmpdir(), 'jotmark-speak-'));
for (const [name, lines] of Object.entries(SENTENCES)) {
  const wav = join(folder, `${name}.wav`);
  const ogg = join(ROOT, 'school/assets/voice', `${name}.ogg`);
  execFileSync('espeak-ng', ['-v', 'en-gb', '-s', '150', '-p', '55', '-g', '4', '-w', wav, lines.join('\n')]);
  execFileSync('opusenc', ['--quiet', '--bitrate', '24', '--downmix-mono', '--discard-comments', wav, ogg]);
  console.log(`${name}: ${readFileSync(ogg).length} bytes`);
}
rmSync(folder, { recursive: true });
