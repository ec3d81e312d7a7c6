import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import fontkit from '@cantoo/fontkit';

/** The face of print, which writes all it can; then what npm brings, a script each, in the order they are asked for a letter. */
const PRINT = [
  '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff',
  '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-latin-ext-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-vietnamese-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-cyrillic-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-cyrillic-ext-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-greek-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-greek-ext-400-normal.woff',
  '@fontsource/noto-sans/files/noto-sans-devanagari-400-normal.woff',
] as const;

/** The teacher's hand, before all others for what was written with it. */
const HAND = '@fontsource/kalam/files/kalam-latin-400-normal.woff';

const DEBIAN = '/usr/share/fonts';

/** Scripts that Debian's fonts-noto-core has a file for, as Unicode names them and as the file does. */
const SCRIPTS = [
  'Arabic',
  'Hebrew',
  'Syriac',
  'Thaana',
  'Nko',
  'Thai',
  'Lao',
  'Khmer',
  'Myanmar',
  'Bengali',
  'Gurmukhi',
  'Gujarati',
  'Oriya',
  'Tamil',
  'Telugu',
  'Kannada',
  'Malayalam',
  'Sinhala',
  'Tibetan',
  'Ethiopic',
  'Georgian',
  'Armenian',
  'Cherokee',
  'Mongolian',
  'Tifinagh',
  'Javanese',
  'Balinese',
  'Sundanese',
  'Coptic',
  'Gothic',
  'Runic',
  'Ogham',
].map((name) => ({
  letters: new RegExp(`\\p{Script_Extensions=${name}}`, 'u'),
  file: `${DEBIAN}/truetype/noto/${name === 'Tibetan' ? 'NotoSerifTibetan' : name === 'Nko' ? 'NotoSansNKo' : `NotoSans${name}`}-Regular.ttf`,
}));

/** East Asian writing; then formulas and signs; then fonts that have nearly every letter, the last of them drawn coarsely. */
const EAST_ASIAN =
  /[\p{Script_Extensions=Han}\p{Script_Extensions=Hiragana}\p{Script_Extensions=Katakana}\p{Script=Hangul}\p{Script=Bopomofo}\u3000-\u303f\uff00-\uffef]/u;
const NANUM = `${DEBIAN}/truetype/nanum/NanumGothic.ttf`;
const DROID = `${DEBIAN}/truetype/droid/DroidSansFallbackFull.ttf`;
const SIGNS = [
  `${DEBIAN}/truetype/dejavu/DejaVuSans.ttf`,
  `${DEBIAN}/truetype/noto/NotoSansMath-Regular.ttf`,
  `${DEBIAN}/truetype/ancient-scripts/Symbola_hint.ttf`,
  `${DEBIAN}/opentype/unifont/unifont.otf`,
  `${DEBIAN}/opentype/unifont/unifont_upper.otf`,
] as const;

export type Written = 'print' | 'hand';

/** A font file that was read: its bytes, and which letters it has. */
export interface Face {
  readonly bytes: Uint8Array;
  has(code: number): boolean;
}

/** The faces that are asked before any letter is known to need another. */
export function firstFaces(written: Written): Promise<readonly Face[]> {
  const files = written === 'hand' ? [HAND, ...PRINT] : PRINT;
  return Promise.all(files.map((file) => loadFace(createRequire(import.meta.url).resolve(file))));
}

/** The face of a letter that the first ones lack, or null where no font of this machine has it. Its file is read the first time it is needed. */
export async function faceBeyond(letter: string): Promise<Face | null> {
  const code = letter.codePointAt(0)!;
  const files = [
    ...SCRIPTS.filter((s) => s.letters.test(letter)).map((s) => s.file),
    ...(EAST_ASIAN.test(letter) ? [DROID, NANUM] : []),
    ...SIGNS,
  ];
  for (const file of files) {
    const face = await loadFace(file).catch(() => null);
    if (face?.has(code)) return face;
  }
  return null;
}

const loaded = new Map<string, Promise<Face>>();

function loadFace(file: string): Promise<Face> {
  const known = loaded.get(file);
  if (known) return known;
  const face = readFile(file).then((buffer) => {
    const bytes = new Uint8Array(buffer);
    const font = fontkit.create(bytes) as unknown as { hasGlyphForCodePoint(code: number): boolean };
    return { bytes, has: (code: number) => font.hasGlyphForCodePoint(code) };
  });
  loaded.set(file, face);
  return face;
}
