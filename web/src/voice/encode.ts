import { type Prepared, VOICE_RATE, type VoiceType } from '@jotmark/core';
import {
  AudioSample,
  AudioSampleSource,
  BlobSource,
  BufferTarget,
  Conversion,
  canEncodeAudio,
  Input,
  MP4,
  Mp3OutputFormat,
  Mp4OutputFormat,
  OggOutputFormat,
  Output,
  WEBM,
  WebMOutputFormat,
} from 'mediabunny';

export interface Encoded {
  readonly bytes: ArrayBuffer;
  readonly type: VoiceType;
}

/** 24 kbit/s of Opus: speech without a flaw, a megabyte for five minutes. MP3 needs more for the same. */
const OPUS_RATE = 24_000;
const MP3_RATE = 40_000;
/** Given to the encoder at a time, in samples. */
const BITE = VOICE_RATE;

/**
 * Samples at `VOICE_RATE` as a file: Opus in Ogg; where the browser has no encoder for it MP3, by one that is loaded then.
 */
export async function encodeVoice({
  length,
  samples,
}: Pick<Prepared, 'length' | 'samples'>): Promise<Encoded> {
  const about = { numberOfChannels: 1, sampleRate: VOICE_RATE };
  const opus = await canEncodeAudio('opus', { ...about, bitrate: OPUS_RATE });
  if (!opus) (await import('@mediabunny/mp3-encoder')).registerMp3Encoder();
  const target = new BufferTarget();
  const output = new Output({ format: opus ? new OggOutputFormat() : new Mp3OutputFormat(), target });
  const source = new AudioSampleSource(
    opus ? { codec: 'opus', bitrate: OPUS_RATE } : { codec: 'mp3', bitrate: MP3_RATE },
  );
  output.addAudioTrack(source);
  await output.start();
  for (let at = 0; at < length; at += BITE) {
    const sample = new AudioSample({
      data: samples(at, Math.min(length, at + BITE)) as Float32Array<ArrayBuffer>,
      format: 'f32',
      ...about,
      timestamp: at / VOICE_RATE,
    });
    await source.add(sample);
    sample.close();
  }
  await output.finalize();
  return { bytes: target.buffer!, type: opus ? 'audio/ogg' : 'audio/mpeg' };
}

/** What the browser's own recorder gave, put into a file that knows how long it is. Nothing is encoded anew. Gives its length in ms too. */
export async function settleClip(
  parts: readonly ArrayBuffer[],
  type: string,
): Promise<Encoded & { ms: number }> {
  const input = new Input({ formats: [WEBM, MP4], source: new BlobSource(new Blob([...parts], { type })) });
  const target = new BufferTarget();
  const mp4 = type.includes('mp4');
  const output = new Output({
    format: mp4 ? new Mp4OutputFormat({ fastStart: 'in-memory' }) : new WebMOutputFormat(),
    target,
  });
  const conversion = await Conversion.init({ input, output, showWarnings: false });
  await conversion.execute();
  const ms = Math.round((await input.computeDuration()) * 1000);
  return { bytes: target.buffer!, type: mp4 ? 'video/mp4' : 'video/webm', ms };
}
