import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, statfsSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Stop } from './say.mjs';
import { squeeze } from './squeeze.mjs';

export const ROOT = dirname(dirname(fileURLToPath(import.meta.url)));

/** Programs that Jotmark runs on, and the Debian package each comes with. */
const TO_RUN = {
  mariadbd: 'mariadb-server',
  qpdf: 'qpdf',
  prlimit: 'util-linux',
  soffice: 'libreoffice-writer-nogui',
  ffmpeg: 'ffmpeg',
  'heif-convert': 'libheif-examples',
};
/** Programs that the tests check with: other makers' PDF tools, and three browsers. */
const TO_TEST = {
  ...TO_RUN,
  chromium: 'chromium',
  'firefox-esr': 'firefox-esr',
  WebKitWebDriver: 'webkit2gtk-driver',
  Xvfb: 'xvfb',
  pdftoppm: 'poppler-utils',
  gs: 'ghostscript',
  'rsvg-convert': 'librsvg2-bin',
  zbarimg: 'zbar-tools',
};
/** What the tests read calendars with. */
const FILES_TO_TEST = { '/usr/lib/python3/dist-packages/icalendar': 'python3-icalendar' };
/**
 * Parts that are no programs: LibreOffice's slides and spreadsheets, fonts that stand in for those of office documents, and those that write the letters of every
 * script into PDFs.
 */
const FILES_TO_RUN = {
  '/usr/lib/libreoffice/share/registry/impress.xcd': 'libreoffice-impress-nogui',
  '/usr/lib/libreoffice/share/registry/calc.xcd': 'libreoffice-calc-nogui',
  '/usr/share/fonts/truetype/liberation2': 'fonts-liberation2',
  '/usr/share/fonts/truetype/crosextra/Carlito-Regular.ttf': 'fonts-crosextra-carlito',
  '/usr/share/fonts/truetype/crosextra/Caladea-Regular.ttf': 'fonts-crosextra-caladea',
  '/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf': 'fonts-dejavu-core',
  '/usr/share/fonts/truetype/noto/NotoSansMath-Regular.ttf': 'fonts-noto-core',
  '/usr/share/fonts/truetype/droid/DroidSansFallbackFull.ttf': 'fonts-droid-fallback',
  '/usr/share/fonts/truetype/nanum/NanumGothic.ttf': 'fonts-nanum',
  '/usr/share/fonts/truetype/ancient-scripts/Symbola_hint.ttf': 'fonts-symbola',
  '/usr/share/fonts/opentype/unifont/unifont.otf': 'fonts-unifont',
};

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  const good = (major === 20 && minor >= 19) || major === 22 ? major !== 22 || minor >= 12 : major > 22;
  if (!good)
    throw new Stop(
      `Jotmark needs Node 20.19 or newer; this is ${process.versions.node}. Install Node 20 and start again.`,
    );
}

export function checkDisk(megabytes = 1500) {
  const { bavail, bsize } = statfsSync(ROOT);
  const free = Math.floor((bavail * bsize) / 1024 ** 2);
  if (free < megabytes)
    throw new Stop(
      `Only ${free} MB are free on the disk of ${ROOT}; Jotmark needs about ${megabytes} MB. Make room and start again; nothing was changed.`,
    );
}

const onPath = (program) =>
  `${process.env.PATH}:/usr/sbin:/sbin`.split(':').some((dir) => existsSync(join(dir, program)));

/** Installs Debian packages that are missing, as root or through sudo; else says the one line to run. */
export function installDebian(forTests) {
  const missing = Object.entries(forTests ? TO_TEST : TO_RUN)
    .filter(([program]) => !onPath(program))
    .map(([, name]) => name);
  const files = { ...FILES_TO_RUN, ...(forTests ? FILES_TO_TEST : {}) };
  for (const [path, name] of Object.entries(files)) if (!existsSync(path)) missing.push(name);
  if (missing.length === 0) return;
  const packages = [...new Set(missing)].sort();
  const line = `apt-get update && apt-get install -y --no-install-recommends ${packages.join(' ')}`;
  const root = process.getuid?.() === 0;
  const sudo = !root && spawnSync('sudo', ['-n', 'true']).status === 0;
  if (!root && !sudo)
    throw new Stop(
      `Some Debian packages are missing. Run this one line, then start again:\n\n  sudo sh -c '${line}'`,
    );
  console.log(`Installing from Debian: ${packages.join(', ')} …`);
  const [command, ...args] = [
    ...(sudo ? ['sudo'] : []),
    'sh',
    '-c',
    `DEBIAN_FRONTEND=noninteractive; export DEBIAN_FRONTEND; ${line}`,
  ];
  const ran = spawnSync(command, args, { stdio: ['ignore', 'ignore', 'pipe'], encoding: 'utf8' });
  if (ran.status !== 0)
    throw new Stop(
      `Debian's packages could not be installed (${packages.join(', ')}):\n${ran.stderr.trim().split('\n').slice(-4).join('\n')}\nRun it by hand: ${line}`,
    );
}

/** `npm ci`, only when package-lock.json is not the one that node_modules was made from. */
export function installNpm() {
  const stamp = join(ROOT, 'node_modules/.jotmark-lock');
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing npm packages …');
  const ran = spawnSync('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: ROOT,
    stdio: 'inherit',
  });
  if (ran.status !== 0)
    throw new Stop(
      'npm ci failed; what it says stands above. With a working connection to the npm registry, start again.',
    );
  writeFileSync(stamp, lock);
}

/** Builds what is not built from the present sources: TypeScript, then the web app. */
export function build() {
  const sources = execFileSync(
    'find',
    [
      'core',
      'server',
      'school',
      'web',
      '-path',
      '*/node_modules',
      '-prune',
      '-o',
      '-path',
      '*/dist',
      '-prune',
      '-o',
      '-path',
      '*/dist-types',
      '-prune',
      '-o',
      '-type',
      'f',
      '-not',
      '-name',
      '*.tsbuildinfo',
      '-print0',
    ],
    { cwd: ROOT },
  )
    .toString()
    .split('\0')
    .filter(Boolean)
    .sort();
  const hash = createHash('sha256');
  for (const file of [...sources, 'package-lock.json', 'tsconfig.base.json'])
    hash.update(file).update(readFileSync(join(ROOT, file)));
  const now = hash.digest('hex');
  const stamp = join(ROOT, 'web/dist/.built-from');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  console.log('Building …');
  run('rm', [
    '-rf',
    ...['core', 'server', 'school', 'web'].flatMap((p) => [`${p}/dist`, `${p}/tsconfig.tsbuildinfo`]),
  ]);
  run('npx', ['tsc', '-b', 'core', 'server', 'school']);
  run('npx', ['vite', 'build', '--logLevel', 'error'], join(ROOT, 'web'));
  squeeze(join(ROOT, 'web/dist'));
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, now);
}

export function run(command, args, cwd = ROOT) {
  const ran = spawnSync(command, args, { cwd, stdio: 'inherit' });
  if (ran.status !== 0) throw new Stop(`"${command} ${args.join(' ')}" failed; what it says stands above.`);
}

/** A port on loopback that nothing listens on now. */
export function freePort() {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });
}

export function portIsFree(port) {
  return new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
}
