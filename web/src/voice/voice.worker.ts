import { levelOf, MOST_VOICE_MS, msOf, Resampler, VOICE_RATE, VoiceMeter } from '@jotmark/core';
import { settleClip } from './encode.ts';
import { digestOf, makeReady } from './make-ready.ts';
import { type Take, Takes } from './takes.ts';
import type { FromVoiceWorker, ToVoiceWorker } from './voice-messages.ts';

/** The longest that is lost when a tab dies, in samples: what has not gone to the database yet. */
const PART = VOICE_RATE / 2;

/** So often the page is told how long and how loud it is, in ms. */
const TELL_MS = 100;

/** As long as the last samples may take to come. */
const LAST_SAMPLES_MS = 500;

/** A take of sound that is being recorded. */
interface Running {
  take: Take;
  /** Made with the first samples: the rate may only be told when the microphone is open. */
  resampler: Resampler | null;
  /** What is measured meanwhile, so that nothing is left to measure when it ends. */
  readonly meter: VoiceMeter;
  readonly parts: Int16Array[];
  /** Not kept yet. */
  open: Int16Array;
  filled: number;
  samples: number;
  /** When the page was last told, by this worker's clock. */
  told: number;
  full: boolean;
  /** Asked to end, and whether its last samples came. */
  finishing: boolean;
  ended: boolean;
}

const say = (message: FromVoiceWorker, transfer: Transferable[] = []) =>
  (self as unknown as Worker).postMessage(message, transfer);

let database: Promise<Takes | null> | null = null;
const takes = () => {
  database ??= Takes.open().catch(() => null);
  return database;
};
let running: Running | null = null;
let rate = 48_000;

/** Writes one after the other, so that a part is never there before its take. */
let writing: Promise<unknown> = Promise.resolve();
function write(id: string, work: (kept: Takes) => Promise<void>): void {
  writing = writing.then(async () => {
    const kept = await takes();
    if (!kept) return say({ kind: 'not-kept', id });
    await work(kept).catch(() => say({ kind: 'not-kept', id }));
  });
}

function begin(take: Take): void {
  running = {
    take,
    resampler: null,
    meter: new VoiceMeter(),
    parts: [],
    open: new Int16Array(PART),
    filled: 0,
    samples: 0,
    told: 0,
    full: false,
    finishing: false,
    ended: false,
  };
  write(take.id, (kept) => kept.keep(take));
}

/** More samples from the microphone; those of a take that was dropped are nobody's. */
function take(samples: Float32Array): void {
  if (!running || running.full) return;
  running.resampler ??= new Resampler(rate);
  add(running, running.resampler.push(samples));
  const ms = msOf(running.samples);
  // Often enough for an eye; each word of it costs the page something.
  const told = performance.now();
  if (told - running.told < TELL_MS && ms < MOST_VOICE_MS) return;
  running.told = told;
  say({ kind: 'heard', id: running.take.id, ms, level: levelOf(samples) });
  if (ms < MOST_VOICE_MS) return;
  running.full = true;
  say({ kind: 'full', id: running.take.id });
}

function add(to: Running, samples: Float32Array): void {
  const most = Math.floor((MOST_VOICE_MS * VOICE_RATE) / 1000);
  to.meter.push(samples.subarray(0, most - to.samples));
  for (const s of samples) {
    if (to.samples === most) return;
    to.open[to.filled++] = Math.max(-32_768, Math.min(32_767, Math.round(s * 32_767)));
    to.samples++;
    if (to.filled === PART) keepOpen(to);
  }
}

function keepOpen(of: Running): void {
  if (of.filled === 0) return;
  const part = of.open.slice(0, of.filled);
  const n = of.parts.push(part) - 1;
  of.filled = 0;
  const { id } = of.take;
  write(id, (kept) => kept.keepPart(id, n, part.buffer));
}

function atEnd(): void {
  if (running) running.ended = true;
  finish();
}

/** Asked to end, and the last samples are here. */
async function finish(): Promise<void> {
  const over = running;
  if (!over?.finishing || !over.ended) return;
  running = null;
  if (over.resampler) add(over, over.resampler.end());
  keepOpen(over);
  await settle(over.take, over.parts, over.meter);
}

async function settle(of: Take, parts: readonly Int16Array[], meter?: VoiceMeter): Promise<void> {
  try {
    // Who draws before the first word means the time before it, too.
    const ready = await makeReady(parts, of.talk.made.length > 0, meter);
    say({ kind: 'ready', take: of, ready }, ready ? [ready.bytes] : []);
  } catch (error) {
    say({ kind: 'failed', take: of, why: error instanceof Error ? error.message : String(error) });
  }
}

async function settleKeptClip(of: Take, type: string): Promise<void> {
  await writing;
  const parts = (await (await takes())?.parts(of.id)) ?? [];
  try {
    if (parts.length === 0) return say({ kind: 'ready', take: of, ready: null });
    const { bytes, type: made, ms } = await settleClip(parts, type);
    const file = await digestOf(bytes);
    say({ kind: 'ready', take: of, ready: { bytes, type: made, file, ms, peaks: [], cutMs: 0 } }, [bytes]);
  } catch (error) {
    say({ kind: 'failed', take: of, why: error instanceof Error ? error.message : String(error) });
  }
}

async function recover(id: string): Promise<void> {
  const kept = await takes();
  const left = await kept?.find(id);
  if (!kept || !left) return;
  if (left.clip) return settleKeptClip(left, left.clip);
  await settle(
    left,
    (await kept.parts(id)).map((p) => new Int16Array(p)),
  );
}

self.onmessage = ({ data }: MessageEvent<ToVoiceWorker>) => {
  switch (data.kind) {
    case 'listen':
      rate = data.rate;
      data.port.onmessage = (e: MessageEvent<{ samples: Float32Array; end: boolean }>) => {
        take(e.data.samples);
        if (e.data.end) atEnd();
      };
      break;
    case 'begin':
      if (data.take.clip) write(data.take.id, (kept) => kept.keep(data.take));
      else begin(data.take);
      break;
    case 'note':
      if (running?.take.id === data.take.id) running.take = data.take;
      write(data.take.id, (kept) => kept.keep(data.take));
      break;
    case 'clip-part':
      write(data.id, (kept) => kept.keepPart(data.id, data.n, data.bytes));
      break;
    case 'finish':
      if (running?.take.id === data.id) {
        running.finishing = true;
        finish();
        // A microphone that died says no more that it has ended.
        setTimeout(() => running?.take.id === data.id && atEnd(), LAST_SAMPLES_MS);
      } else
        takes().then(async (kept) => {
          await writing;
          const clip = await kept?.find(data.id);
          if (clip?.clip) await settleKeptClip(clip, clip.clip);
        });
      break;
    case 'drop':
      if (running?.take.id === data.id) running = null;
      write(data.id, (kept) => kept.forget(data.id));
      break;
    case 'forget':
      write(data.id, (kept) => kept.forget(data.id));
      break;
    case 'recover':
      recover(data.id);
      break;
  }
};
