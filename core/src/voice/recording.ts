import * as z from 'zod';
import { PEAKS } from '../sound/peaks.ts';
import { Digest } from '../versions/digest.ts';
import { listOf, numbersOf } from '../versions/list.ts';
import { Caption, MOST_CAPTIONS } from './captions.ts';
import { MOST_VOICE_MS } from './limits.ts';
import { Talk } from './talk.ts';

/** The kinds of file that Jotmark itself makes of what was said. */
export const VoiceType = z.enum(['audio/ogg', 'audio/mpeg', 'audio/wav', 'video/webm', 'video/mp4']);
export type VoiceType = z.infer<typeof VoiceType>;

/** Something that was said, or shown to a camera. Its bytes are kept apart. */
export const Recording = z.object({
  /** What its bytes are called. */
  file: Digest,
  type: VoiceType,
  ms: z.int().min(1).max(MOST_VOICE_MS),
  /** How its wave is drawn, 0…100. */
  peaks: numbersOf(PEAKS, 0, (v) => v >= 0 && v <= 100),
  /** What is said in it, in order; none where nobody wrote it down. */
  captions: listOf(Caption, MOST_CAPTIONS),
  /** What was drawn while it was said. */
  talk: Talk.optional(),
});
export type Recording = z.infer<typeof Recording>;

export const isClip = (recording: Pick<Recording, 'type'>): boolean => recording.type.startsWith('video/');

/** What is said in it, as words; nothing where nobody wrote it down. */
export const spokenWords = (recording: Pick<Recording, 'captions'>): string =>
  recording.captions.map((c) => c.words).join('\n');

/** A length or a moment as it is shown: 65 400 ms is "1:05". */
export function clockOf(ms: number): string {
  const s = Math.floor(ms / 1000);
  const minutes = Math.floor(s / 60);
  const seconds = String(s % 60).padStart(2, '0');
  return minutes < 60
    ? `${minutes}:${seconds}`
    : `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, '0')}:${seconds}`;
}
