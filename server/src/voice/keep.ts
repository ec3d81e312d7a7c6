import { createHash } from 'node:crypto';
import { type Digest, MOST_VOICE_BYTES, type Person, VOICE_PART, type VoiceType } from '@jotmark/core';
import { In, LessThan, Not } from 'typeorm';
import { keepBytes } from '../blobs/blob.ts';
import { VoicePartTable, VoiceTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find, insertNew, remove } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { orderJob } from '../jobs/queue.ts';

export interface VoicePart {
  readonly type: VoiceType;
  readonly n: number;
  readonly of: number;
  readonly base64: string;
}

/** So many parts of one teacher's unfinished recordings are kept: five of the longest. What is more is on the device still, and travels again. */
const MOST_OPEN = 5 * Math.ceil(MOST_VOICE_BYTES / VOICE_PART);
/** A recording of which no more parts came for so long, in ms, never will be whole. */
const FORGOTTEN_MS = 7 * 24 * 3_600_000;

/**
 * Keeps a part of a recording. With the last one it is put together, held against its digest and its first bytes, kept for good, and its plain form is
 * ordered. Sent twice counts once. Gives which parts are still missing.
 */
export async function keepVoicePart(
  house: House,
  person: Person,
  file: Digest,
  { type, n, of, base64 }: VoicePart,
): Promise<number[]> {
  const db = house.db.manager;
  // Who names what another has recorded has to have it: nobody learns by a digest alone whether it is there.
  const mine = { sha256: file, ownerId: person.id };
  if (await find(db, VoiceTable, mine)) return [];
  const now = house.now();
  const bytes = Buffer.from(base64, 'base64');
  const parts = db.getRepository(VoicePartTable);
  if ((await parts.countBy({ ownerId: person.id })) >= MOST_OPEN)
    await parts.delete({ ownerId: person.id, sha256: Not(file) });
  await insertNew(db, VoicePartTable, { ownerId: person.id, sha256: file, n, bytes, at: now });
  const there = await parts.find({ select: { n: true }, where: { ownerId: person.id, sha256: file } });
  const have = new Set(there.map((p) => p.n));
  const missing = Array.from({ length: of }, (_, i) => i).filter((i) => !have.has(i));
  if (missing.length) return missing;
  const all = await parts.find({ where: { ownerId: person.id, sha256: file }, order: { n: 'ASC' } });
  const whole = Buffer.concat(all.map((p) => p.bytes));
  const fits =
    whole.length <= MOST_VOICE_BYTES &&
    createHash('sha256').update(whole).digest('hex') === file &&
    typeOf(whole) === type;
  if (fits) await keepWhole(house, person, whole, type);
  await remove(db, VoicePartTable, { ownerId: person.id, sha256: file });
  await parts.delete({ at: LessThan(now - FORGOTTEN_MS) });
  // Another tab may have put it together a moment ago.
  if (!fits && !(await find(db, VoiceTable, mine))) throw new Fault('voice-broken');
  return [];
}

/** Keeps a whole recording at once: for code that makes schools, and for the last part of one. */
export async function keepWhole(
  house: House,
  person: Pick<Person, 'id'>,
  bytes: Uint8Array,
  type: VoiceType,
): Promise<void> {
  const db = house.db.manager;
  const { sha256 } = await keepBytes(house.db, bytes, house.now());
  await insertNew(db, VoiceTable, {
    sha256,
    type,
    ownerId: person.id,
    keptAt: house.now(),
    plainSha256: PLAIN.has(type) ? sha256 : null,
  });
  if (!PLAIN.has(type))
    await orderJob(house, db, {
      kind: 'plain-voice',
      subject: sha256.slice(0, 36),
      personId: null,
      size: bytes.length,
      input: { file: sha256 },
    });
}

/** What everything opens as it is. */
const PLAIN: ReadonlySet<VoiceType> = new Set(['audio/mpeg', 'video/mp4']);

/** What recorded bytes are, by how they begin; null: nothing that Jotmark records. */
function typeOf(bytes: Buffer): VoiceType | null {
  const latin = bytes.subarray(0, 4096).toString('latin1');
  if (latin.startsWith('OggS')) return latin.includes('OpusHead') ? 'audio/ogg' : null;
  if (latin.startsWith('RIFF') && latin.startsWith('WAVE', 8)) return 'audio/wav';
  if (latin.startsWith('\x1a\x45\xdf\xa3')) return /V_VP[89]|V_AV1|V_MPEG/.test(latin) ? 'video/webm' : null;
  if (latin.startsWith('ftyp', 4)) return 'video/mp4';
  if (latin.startsWith('ID3') || (bytes[0] === 0xff && (bytes[1]! & 0xe6) === 0xe2)) return 'audio/mpeg';
  return null;
}

/** Which of these recordings are not there. */
export async function missingVoices(db: Db, files: readonly string[]): Promise<string[]> {
  if (files.length === 0) return [];
  const there = await db.getRepository(VoiceTable).findBy({ sha256: In([...files]) });
  const known = new Set(there.map((v) => v.sha256));
  return files.filter((f) => !known.has(f));
}
