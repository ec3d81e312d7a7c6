import {
  type Across,
  type AcrossCopy,
  type Box,
  type Change,
  type ChangeId,
  type CopyId,
  type HandInId,
  invertChange,
  type Mark,
  type MarkId,
  type NoteMark,
  type StampMark,
  scoreOfQuestion,
} from '@jotmark/core';
import { type QueryKey, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';

/** One thing done to several copies: taken back as one. */
interface Done {
  readonly on: HandInId;
  readonly copyId: CopyId;
  readonly change: Change;
}

/** What is done to one question of many copies: each copy gets a change of its own, and one undo takes them all back. */
export function useAcross(across: Across, key: QueryKey) {
  const client = useQueryClient();
  const done = useRef<readonly (readonly Done[])[]>([]);
  const [count, setCount] = useState(0);
  const did = (some: readonly Done[]) => {
    if (some.length) done.current = [...done.current, some];
    setCount(done.current.length);
  };
  const show = (copies: ReadonlyMap<CopyId, Partial<AcrossCopy>>) =>
    client.setQueryData(key, (old: Across | undefined) => {
      if (!old) return old;
      const now = old.copies.map((c) => ({ ...c, ...copies.get(c.copyId) }));
      const scored = now.filter((c) => c.points !== null).length;
      return {
        ...old,
        copies: now,
        progress: old.progress.map((p) => (p.id === old.question.id ? { ...p, scored } : p)),
      };
    });
  const now = () => client.getQueryData<Across>(key)?.copies ?? across.copies;
  const open = (ids: readonly CopyId[]) => now().filter((c) => ids.includes(c.copyId) && !c.handedBack);
  const of = scoreOfQuestion(across.question.id);

  /** One thing after the other, as fast as keys come: what was done last is taken back first. */
  const last = useRef<Promise<unknown>>(Promise.resolve());
  const inTurn = <T>(work: () => Promise<T>): Promise<T> => {
    const now = last.current.then(work);
    last.current = now.catch(() => {});
    return now;
  };

  async function scoreAll(ids: readonly CopyId[], points: number | null): Promise<void> {
    const some: Done[] = [];
    const shown = new Map<CopyId, Partial<AcrossCopy>>();
    for (const c of open(ids)) {
      const change = await outbox.writeScore({
        sheetId: c.handInId,
        of,
        value: points === null ? null : { of: 'question', points },
        was: c.typed === null ? null : { of: 'question', points: c.typed },
        base: c.version,
      });
      if (!change) continue;
      some.push({ on: c.handInId, copyId: c.copyId, change });
      shown.set(c.copyId, { typed: points, points: points ?? pointsOnPage(c), version: change.id });
    }
    show(shown);
    did(some);
  }

  /** Puts a mark on each of them, at its answer. */
  async function putAll(ids: readonly CopyId[], make: (copy: AcrossCopy, box: Box) => Mark): Promise<number> {
    const some: Done[] = [];
    const shown = new Map<CopyId, Partial<AcrossCopy>>();
    for (const c of open(ids)) {
      if (!c.box || !c.document) continue;
      const mark = make(c, c.box);
      const change: Change = { id: newId<ChangeId>(), base: null, type: 'put', mark, was: null };
      await outbox.put(c.handInId, [change]);
      some.push({ on: c.handInId, copyId: c.copyId, change });
      const marks = [...c.marks, mark];
      shown.set(c.copyId, { marks, points: c.typed ?? pointsOnPage({ ...c, marks }) });
    }
    show(shown);
    did(some);
    return some.length;
  }

  async function undoLast(): Promise<number> {
    const last = done.current.at(-1);
    if (!last) return 0;
    done.current = done.current.slice(0, -1);
    setCount(done.current.length);
    const shown = new Map<CopyId, Partial<AcrossCopy>>();
    for (const { on, copyId, change } of last) {
      const back = invertChange(change, newId<ChangeId>(), change.id);
      const copy = now().find((c) => c.copyId === copyId);
      if (!back || !copy) continue;
      await outbox.put(on, [back]);
      if (back.type === 'score') {
        const typed = back.value?.of === 'question' ? back.value.points : null;
        shown.set(copyId, { typed, points: typed ?? pointsOnPage(copy), version: back.id });
      } else if (change.type === 'put') {
        const marks = copy.marks.filter((m) => m.id !== change.mark.id);
        shown.set(copyId, { marks, points: copy.typed ?? pointsOnPage({ ...copy, marks }) });
      }
    }
    show(shown);
    return last.length;
  }

  return {
    score: (ids: readonly CopyId[], points: number | null) => inTurn(() => scoreAll(ids, points)),
    put: (ids: readonly CopyId[], make: (copy: AcrossCopy, box: Box) => Mark) =>
      inTurn(() => putAll(ids, make)),
    undo: () => inTurn(undoLast),
    canUndo: count > 0,
  };
}

export type AcrossMoves = ReturnType<typeof useAcross>;

/** What the marks at this answer earn; null: no points stand there. */
function pointsOnPage({ marks }: Pick<AcrossCopy, 'marks'>): number | null {
  const earned = marks.flatMap((m) => {
    const points = m.kind === 'stamp' ? m.points : m.kind === 'note' ? (m.points ?? null) : null;
    return points === null ? [] : [points];
  });
  return earned.length
    ? Math.max(
        0,
        earned.reduce((a, b) => a + b, 0),
      )
    : null;
}

const base = (copy: AcrossCopy) => ({
  v: 2 as const,
  id: newId<MarkId>(),
  document: copy.document!,
  page: copy.page,
  focus: null,
  madeAt: Date.now(),
});

/** A note at an answer: it stands at the end of its place. */
export const noteAt = (copy: AcrossCopy, [, top, right]: Box, words: string): NoteMark => ({
  ...base(copy),
  colour: 'garnet',
  kind: 'note',
  place: { on: 'spot', x: right - 14, y: top + 8 },
  words,
});

/** A tick at an answer, with points or without. */
export const tickAt = (copy: AcrossCopy, [, top, right, bottom]: Box, points: number | null): StampMark => ({
  ...base(copy),
  colour: 'garnet',
  kind: 'stamp',
  x: right - 34,
  y: (top + bottom) / 2,
  size: 20,
  turn: 0,
  look: { of: 'sign', sign: 'tick' },
  points,
});
