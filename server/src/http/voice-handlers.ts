import type { Digest, VoiceType, voiceRoutes } from '@jotmark/core';
import { sendFile } from '../blobs/send.ts';
import { VoiceTable } from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { keepHeard } from '../voice/heard.ts';
import { keepVoicePart } from '../voice/keep.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';

/** What was said: kept by teachers, heard by whom it was handed back to. */
export function voiceHandlers({ house, nudge }: Parts): HandlersOf<typeof voiceRoutes> {
  return {
    keepVoicePart: async ({ person, params, body }) => {
      const missing = await keepVoicePart(house, person, params.file, body);
      if (missing.length === 0) nudge();
      return { missing };
    },
    voice: async ({ params, req, res }) => {
      const { sha256, type } = await voiceRow(house, params.file);
      await sendFile(house, req, res, { sha256, type, download: null });
      return undefined;
    },
    plainVoice: async ({ params, req, res }) => {
      const { plainSha256, type } = await voiceRow(house, params.file);
      if (!plainSha256) throw new Fault('voice-not-ready');
      await sendFile(house, req, res, { sha256: plainSha256, type: plainType(type), download: null });
      return undefined;
    },
    heard: ({ person, params, body }) => done(keepHeard(house, person, params.handBackId, params.file, body)),
  };
}

async function voiceRow(house: House, sha256: Digest) {
  const row = await find(house.db.manager, VoiceTable, { sha256 });
  if (!row) throw new Fault('not-found');
  return row;
}

const plainType = (type: VoiceType): VoiceType => (type.startsWith('video/') ? 'video/mp4' : 'audio/mpeg');
