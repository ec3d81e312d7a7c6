import {
  type Caption,
  LEAST_MS,
  type MarkId,
  MOST_CAPTIONS,
  MOST_VOICE_MS,
  type Recording,
  type Talk,
} from '@jotmark/core';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';
import type { Take } from './takes.ts';
import type { Ready } from './voice-messages.ts';

/** Puts a recording that is ready where it was begun: its bytes wait on this device like any change, and go before the change that names them. */
export async function settleTake(take: Take, ready: Ready): Promise<void> {
  // Nothing of one is ever put in the name of another: it waits for who made it.
  if (outbox.personId !== take.personId) throw new Error('another is signed in');
  await outbox.keepBytes(ready.file, { type: ready.type, bytes: ready.bytes });
  const recording = recordingOf(take, ready);
  const { place } = take;
  if (place.of === 'copy') {
    await outbox.writeSlip({
      sheetId: take.handInId,
      field: 'voice',
      value: recording,
      was: place.was,
      base: place.base,
    });
    return;
  }
  await outbox.putMark(take.handInId, {
    id: place.note.id,
    base: place.base,
    was: place.isNew ? null : place.note,
    // A note that was deleted meanwhile, or that is elsewhere by now: what was said at its place stands there by itself.
    make: (now) => ({
      ...(now?.kind === 'note' ? now : { ...place.note, id: place.isNew ? place.note.id : newId<MarkId>() }),
      voice: recording,
    }),
  });
}

function recordingOf(take: Take, { file, type, ms, peaks, cutMs }: Ready): Recording {
  const at = (moment: number) => Math.round(Math.min(ms, Math.max(0, moment - cutMs)));
  const captions: Caption[] = take.captions
    .slice(0, MOST_CAPTIONS)
    .map((c) => ({ at: at(c.at), words: c.words.slice(0, 500) }));
  const { made, seen } = take.talk;
  const talk: Talk = {
    made: made.map((m) => ({ mark: m.mark, from: at(m.from), to: at(m.to) })),
    seen: seen.map((s) => ({ ...s, at: at(s.at) })),
  };
  return {
    file,
    type,
    ms: Math.max(LEAST_MS, Math.min(MOST_VOICE_MS, ms)),
    peaks: [...peaks],
    captions,
    // A page alone that was looked at is no talk.
    ...(made.length ? { talk } : {}),
  };
}
