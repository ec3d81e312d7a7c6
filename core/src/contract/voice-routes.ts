import * as z from 'zod';
import { HandBackId } from '../ids/id.ts';
import { Digest } from '../versions/digest.ts';
import { MOST_VOICE_BYTES, MOST_VOICE_MS, VOICE_PART } from '../voice/limits.ts';
import { VoiceType } from '../voice/recording.ts';
import { Bytes, route } from './route.ts';

const MOST_PARTS = Math.ceil(MOST_VOICE_BYTES / VOICE_PART);
const file = z.object({ file: Digest });

/** What was said: how it is kept, and how it is heard. */
export const voiceRoutes = {
  keepVoicePart: route(
    'POST',
    '/api/voices/:file/parts',
    'teacher',
    'Keep a part of a recording; with the last of them it is put together and checked',
    {
      params: file,
      body: z
        .object({
          type: VoiceType,
          /** Which part this is, counted from 0, of how many. */
          n: z.int().min(0),
          of: z.int().min(1).max(MOST_PARTS),
          base64: z
            .string()
            .regex(/^[A-Za-z0-9+/]+={0,2}$/)
            .max(Math.ceil(VOICE_PART / 3) * 4),
        })
        .refine((part) => part.n < part.of, 'a part of its own whole'),
      limit: Math.ceil(VOICE_PART / 3) * 4 + 1024,
      /** Which parts are not there yet; none: the recording is kept. */
      reply: z.object({ missing: z.array(z.int()) }),
    },
  ),
  voice: route('GET', '/api/voices/:file', 'person', 'A recording as it was made, by range', {
    params: file,
    reply: Bytes,
    sends: 'bytes',
  }),
  plainVoice: route(
    'GET',
    '/api/voices/:file/plain',
    'person',
    'The same in a form that old browsers and every player open: MP3, or MP4 of a clip',
    { params: file, reply: Bytes, sends: 'bytes' },
  ),
  heard: route('PUT', '/api/hand-backs/:handBackId/heard/:file', 'student', 'How far it was heard', {
    params: z.object({ handBackId: HandBackId, file: Digest }),
    body: z.object({
      /** In ms from its beginning: as far as one ever was, and where one is now. */
      reached: z.int().min(0).max(MOST_VOICE_MS),
      left: z.int().min(0).max(MOST_VOICE_MS),
    }),
  }),
} as const;
