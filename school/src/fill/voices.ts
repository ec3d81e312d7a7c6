import { readFileSync } from 'node:fs';
import {
  captionsOf,
  type Digest,
  type DocumentId,
  digestOf,
  isMarginMark,
  type Mark,
  type MarkId,
  type Person,
  quantise,
  type Recording,
} from '@jotmark/core';
import { type House, keepWhole } from '@jotmark/server';
import * as z from 'zod';
import type { Chance } from '../chance.ts';
import { type Hand, write } from '../handwriting/write.ts';
import { SENTENCES, type SentenceName } from '../stand-in/sentences.ts';
import type { AnswerPlace } from '../worksheet/worksheets.ts';
import type { MarkMaker } from './marks.ts';

const ASSETS = new URL('../../assets/voice/', import.meta.url);
const About = z.record(z.string(), z.object({ ms: z.number(), peaks: z.array(z.number()) }));

const about = (name: string) =>
  About.parse(JSON.parse(readFileSync(new URL('about.json', ASSETS), 'utf8')))[name]!;

/** A teacher's hand: quick, and a little slanted. */
const HAND: Hand = { size: 6, slant: 0.2, shake: 0.18, spacing: 1.2 };
/** What is written while one talks, and when the pen begins and stops, as shares of the recording. */
const WRITTEN = { text: '5.5 x 200 = 1100 m', from: 0.34, to: 0.82 } as const;

/** Keeps one of the stand-in's sentences as if this teacher had recorded it. */
export async function recorded(
  house: House,
  teacher: Pick<Person, 'id'>,
  name: SentenceName,
): Promise<Recording> {
  const bytes = new Uint8Array(readFileSync(new URL(`${name}.ogg`, ASSETS)));
  const { ms, peaks } = about(name);
  await keepWhole(house, teacher, bytes, 'audio/ogg');
  const file: Digest = digestOf(bytes);
  return { file, type: 'audio/ogg', ms, peaks, captions: captionsOf(SENTENCES[name].join('\n'), ms, []) };
}

/** The same as a clip of the camera. */
export async function filmed(house: House, teacher: Pick<Person, 'id'>): Promise<Recording> {
  const bytes = new Uint8Array(readFileSync(new URL('clip.webm', ASSETS)));
  const { ms } = about('clip');
  await keepWhole(house, teacher, bytes, 'video/webm');
  return {
    file: digestOf(bytes),
    type: 'video/webm',
    ms,
    peaks: [],
    captions: captionsOf(SENTENCES.evidence.join('\n'), ms, []),
  };
}

/** The first note of these marks as it is when it is spoken instead of typed. */
export function withFirstSpoken(marks: readonly Mark[], voice: Recording): Mark[] {
  const first = marks.findIndex((m) => m.kind === 'note' && isMarginMark(m) && !m.also);
  return marks.map((m, i) => (i === first && m.kind === 'note' ? { ...m, words: '', voice } : m));
}

/** A working talked through beside an answer: strokes, and a note that they were made in. */
export function talkedThrough(
  chance: Chance,
  maker: MarkMaker,
  place: AnswerPlace,
  voice: Recording,
): Mark[] {
  const base = () => ({
    v: 2 as const,
    id: maker.newId<MarkId>(),
    document: maker.document,
    page: place.page,
    colour: 'lake' as const,
    focus: 'method',
    madeAt: maker.now(),
  });
  const [x, y] = [place.x + place.width * 0.42, place.y - 3];
  const { strokes } = write(chance, HAND, WRITTEN.text, x, y, 400, 14);
  const ink = strokes.map(
    (stroke): Mark => ({
      ...base(),
      focus: null,
      kind: 'ink',
      width: 1.5,
      points: stroke.flatMap(([px, py]) => quantise(px, py, 0.5)),
    }),
  );
  const each = (voice.ms * (WRITTEN.to - WRITTEN.from)) / ink.length;
  const made = ink.map((mark, i) => {
    const from = Math.round(voice.ms * WRITTEN.from + i * each);
    return { mark: mark.id, from, to: Math.round(from + each * 0.8) };
  });
  const note: Mark = {
    ...base(),
    kind: 'note',
    place: { on: 'spot', x: x - 12, y: y - 3 },
    words: '',
    voice: { ...voice, talk: { made, seen: [] } },
  };
  return [...ink, note];
}

/** What is said about a film at three of its moments: words, a tick, and a voice. */
export function onFilm(
  document: DocumentId,
  maker: Pick<MarkMaker, 'newId' | 'now'>,
  voice: Recording,
): Mark[] {
  const base = (colour: Mark['colour'], focus: string | null) => ({
    v: 2 as const,
    id: maker.newId<MarkId>(),
    document,
    page: 0,
    colour,
    focus,
    madeAt: maker.now(),
  });
  const note = (at: number, words: string, focus: string, colour: Mark['colour']): Mark => ({
    ...base(colour, focus),
    kind: 'note',
    place: { on: 'moment', at },
    words,
  });
  return [
    {
      ...base('garnet', null),
      kind: 'stamp',
      x: 0,
      y: 0,
      size: 20,
      turn: 0,
      look: { of: 'sign', sign: 'tick' },
      points: null,
      moment: 5600,
    },
    note(9000, 'You breathe, and you say so: that is what a map does not show.', 'well put', 'moss'),
    { ...note(14_200, '', 'accuracy', 'garnet'), voice } as Mark,
  ];
}
