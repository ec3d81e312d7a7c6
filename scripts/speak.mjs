import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT } from './machine.mjs';

/**
 * Makes the sound of the stand-in's sentences anew, with Debian's espeak-ng, opus-tools and ffmpeg: one file for each, kept in `school/assets/voice/` and shipped, so
 * that nobody needs these programs to run the demo. Made ready as the app makes a recording ready. `node scripts/speak.mjs`, after the build.
 */
const { SENTENCES } = await import(join(ROOT, 'school/dist/stand-in/sentences.js'));
const { prepareVoice, VOICE_RATE } = await import(join(ROOT, 'core/dist/index.js'));
const folder = mkdtempSync(join(tmpdir(), 'jotmark-speak-'));
const to = join(ROOT, 'school/assets/voice');
const about = {};
for (const [name, lines] of Object.entries(SENTENCES)) {
  const [wav, raw] = [join(folder, `${name}.wav`), join(folder, `${name}.f32`)];
  execFileSync('espeak-ng', ['-v', 'en-gb', '-s', '150', '-p', '55', '-g', '4', '-w', wav, lines.join('\n')]);
  const form = ['-f', 'f32le', '-ar', String(VOICE_RATE), '-ac', '1'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', wav, ...form, raw]);
  const bytes = readFileSync(raw);
  const made = prepareVoice(
    new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length)),
  );
  writeFileSync(raw, Buffer.from(made.samples(0, made.length).slice().buffer));
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...form, '-i', raw, wav]);
  const ogg = join(to, `${name}.ogg`);
  execFileSync('opusenc', ['--quiet', '--bitrate', '24', '--downmix-mono', '--discard-comments', wav, ogg]);
  about[name] = { ms: made.ms, peaks: made.peaks };
  console.log(`${name}: ${made.ms} ms, ${readFileSync(ogg).length} bytes, ${made.lufs.toFixed(1)} LUFS`);
}
// A short clip of the stand-in camera: a pencil that goes along a line, with one of the sentences.
const clip = join(to, 'clip.webm');
const seconds = about.evidence.ms / 1000;
const pencil =
  "drawbox=x='20+t*34':y='120+30*sin(t*2)':w=10:h=10:color=0x1f63b5:t=fill,drawbox=x=20:y=180:w=280:h=2:color=0x24262a:t=fill";
const film = [
  '-f',
  'lavfi',
  '-i',
  `color=c=0xfffefb:s=320x240:r=10:d=${seconds}`,
  '-i',
  join(to, 'evidence.ogg'),
];
const made = [
  '-vf',
  pencil,
  '-c:v',
  'libvpx',
  '-b:v',
  '40k',
  '-c:a',
  'copy',
  '-shortest',
  '-map_metadata',
  '-1',
];
execFileSync('ffmpeg', ['-v', 'error', '-y', ...film, ...made, clip]);
about.clip = { ms: about.evidence.ms, peaks: [] };
writeFileSync(join(to, 'about.json'), `${JSON.stringify(about)}\n`);
rmSync(folder, { recursive: true });
