import type { Digest, HandBackShape } from '@jotmark/core';
import { useMemo } from 'react';
import { outbox } from '../outbox/outbox.ts';
import type { VoicesHere } from '../voice/playing.ts';

/** What of a hand-back its student has heard: kept on this device at once, and sent like everything. The teacher sees it. `on` is false where a teacher listens as its student would. */
export function useHeard(
  handBack: HandBackShape,
  onTalk: NonNullable<VoicesHere['onTalk']>,
  on: boolean,
): VoicesHere {
  const { id, heard } = handBack;
  return useMemo(
    () => ({
      heard: new Map(heard.map((h) => [h.file, h])),
      tells: 'nothing',
      onHeard: (file: Digest, reached: number, left: number) => {
        if (on) outbox.heard(id, { file, reached, left });
      },
      onTalk,
    }),
    [id, heard, onTalk, on],
  );
}
