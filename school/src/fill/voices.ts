import { readFileSync } from 'node:fs';
import {
  captionsOf,
  type Digest,
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
  const { ms, peaks } = About.parse(JSON.parse(readFileSync(new URL('about.json', ASSETS), 'utf8')))[name]!;
  await keepWhole(house, teacher, bytes, 'audio/ogg');
  const file: Digest = digestOf(bytes);
  return { file, type: 'audio/ogg', ms, peaks, captions: captionsOf(SENTENCES[name].join('\n'), ms, []) };
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
