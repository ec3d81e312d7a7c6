import { join } from 'node:path';
import { Digest, type VoiceType } from '@jotmark/core';
import * as z from 'zod';
import { keepFile, writeBlobTo } from '../blobs/blob.ts';
import { VoiceTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, update } from '../database/write.ts';
import type { Work } from '../jobs/context.ts';
import { finishJob } from '../jobs/queue.ts';
import { runBounded } from '../programs/bounded.ts';
import { Failed } from '../programs/failed.ts';

const Input = z.object({ file: Digest });

/** Only the file itself is opened, whatever it speaks of; nothing but sound and picture goes on. */
const OPEN = ['-v', 'error', '-nostdin', '-protocol_whitelist', 'file', '-i'];
const BARE = ['-map_metadata', '-1', '-map_chapters', '-1', '-threads', '1'];
const SOUND = [...BARE, '-map', '0:a:0', '-ac', '1', '-ar', '24000', '-c:a', 'libmp3lame', '-b:a', '40k'];
/** Baseline pictures of at most 640 dots: what tablets of ten years ago play. */
const CLIP = [
  ...BARE,
  ...['-map', '0:v:0', '-map', '0:a:0?', '-vf', "scale='min(640,iw)':-2", '-pix_fmt', 'yuv420p'],
  ...['-c:v', 'libx264', '-profile:v', 'baseline', '-preset', 'veryfast', '-crf', '27'],
  ...['-c:a', 'aac', '-ac', '1', '-b:a', '64k', '-movflags', '+faststart'],
];

/** The job that makes the form of a recording that everything opens: MP3 of a voice, MP4 of a clip. */
export const plainVoice: Work = async ({ house, job, folder, budget }) => {
  const { file } = Input.parse(job.input);
  const db = house.db.manager;
  const voice = await find(db, VoiceTable, { sha256: file });
  if (!voice || voice.plainSha256) return inTransaction(house.db, (tx) => finishJob(tx, job));
  const from = join(folder, 'voice');
  await writeBlobTo(db, file, from);
  const to = join(folder, isClip(voice.type) ? 'plain.mp4' : 'plain.mp3');
  const { code } = await runBounded(
    'ffmpeg',
    [...OPEN, from, ...(isClip(voice.type) ? CLIP : SOUND), to],
    budget,
  );
  if (code !== 0) throw new Failed(code === null ? 'too-slow' : 'broken', `ffmpeg ended with ${code}`);
  const { sha256 } = await keepFile(house.db, to, house.now());
  await inTransaction(house.db, async (tx) => {
    await finishJob(tx, job);
    await update(tx, VoiceTable, { sha256: file }, { plainSha256: sha256 });
  });
};

const isClip = (type: VoiceType) => type.startsWith('video/');
