import {
  BATCH_LIMIT,
  type Desk,
  EMPTY_SHEET,
  type HandInId,
  type MarkingChange,
  type MarkingState,
  type PersonId,
} from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { call } from '../api/call.ts';
import { sendOlderBytes } from '../outbox/older-bytes.ts';
import type { KeptState, Post, SheetKeeper } from '../outbox/sheet-keeper.ts';
import { openDevice, useSheetKeeper } from '../outbox/useSheetKeeper.ts';

const post: Post = {
  async send(id, changes) {
    await sendOlderBytes(changes);
    return call('sendChanges', {
      params: { handInId: id as HandInId },
      body: { changes: changes as MarkingChange[] },
    });
  },
  since: (id, after) => call('changesSince', { params: { handInId: id as HandInId }, query: { after } }),
};

function keptState({ seq, marks, slip }: MarkingState): KeptState {
  const standing = new Map(marks.map((m) => [m.id, { value: m.mark, version: m.version }]));
  return { seq, sheet: { ...EMPTY_SHEET, marks: standing, slip } };
}

/** The keeper of the marking on this desk. */
export function useKeeper(desk: Desk, personId: PersonId): SheetKeeper | null {
  const client = useQueryClient();
  const begun = useRef(desk.marking.seq > 0);
  return useSheetKeeper({
    sheetId: desk.handIn.id,
    personId,
    state: () => keptState(desk.marking),
    post,
    committed(changes) {
      // What the pile shows of a copy: whether it was begun, its grade, whether it is marked. Heard also after the desk was left.
      if (begun.current && !changes.some((c) => c.type === 'write')) return;
      begun.current = true;
      client.invalidateQueries({ queryKey: ['pile', desk.assignment.id] });
      client.invalidateQueries({ queryKey: ['today'] });
    },
  });
}

/** Sends what earlier sittings left on this device, for copies that are not open now. */
export async function sendLeftOvers(personId: PersonId): Promise<void> {
  const kept = await openDevice();
  if (!kept) return;
  for (const sheetId of await kept.waiting(personId)) {
    const handInId = sheetId as HandInId;
    try {
      const rest = await kept.kept(personId, handInId);
      const answer = await post.send(handInId, rest.slice(0, BATCH_LIMIT));
      // Only what was taken goes (a change sent before counts once); what clashed waits until its copy is opened and the teacher can choose.
      const taken = answer.results
        .filter((r) => r.outcome === 'applied' || r.outcome === 'already')
        .map((r) => r.id as string);
      await kept.forget(personId, handInId, new Set(taken));
    } catch {
      // No network, or no longer allowed: it stays on this device.
    }
  }
}
