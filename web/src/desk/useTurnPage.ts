import { type ChangeId, type DocumentId, type DocumentPages, quarterTurn, type Turns } from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { toast } from '../frame/toast.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import type { ShownPage } from '../paper/page-list.ts';

/** A page that was turned: how the pages of its document lay before and after, and which gesture of the marking was the newest then. */
interface Turned {
  readonly id: DocumentId;
  readonly before: Turns;
  readonly after: Turns;
  readonly since: ChangeId | null;
}

/**
 * Turns a page by a quarter for good, without touching its bytes: shown at once, taken back if the server cannot keep it. Undo and redo take it where it was
 * the last thing done; what was marked since comes first.
 */
export function useTurnPage(turnsOf: (id: DocumentId) => Turns, keeper: SheetKeeper) {
  const client = useQueryClient();
  const [done, setDone] = useState<readonly Turned[]>([]);
  const [undone, setUndone] = useState<readonly Turned[]>([]);
  const lay = async (id: DocumentId, from: Turns, to: Turns): Promise<boolean> => {
    const show = (turns: Turns) =>
      client.setQueryData(
        keys.document(id, 'pages'),
        (old: DocumentPages | undefined) => old && { ...old, turns },
      );
    show(to);
    try {
      await call('turnPages', { params: { documentId: id }, body: { turns: to } });
      return true;
    } catch (error) {
      show(from);
      toast.error(sentenceOf(error));
      return false;
    }
  };
  const [canUndo, canRedo] = [done.length > 0, undone.length > 0];
  const can = useMemo(() => ({ canUndo, canRedo }), [canUndo, canRedo]);
  return {
    can,
    async turn(page: ShownPage | undefined) {
      if (!page) return;
      const id = page.document;
      const before = turnsOf(id);
      const after = { ...before, [page.page]: quarterTurn(page.turn + 90) };
      const turned: Turned = { id, before, after, since: keeper.newest };
      // It can be undone from the moment it is seen, however long the server takes.
      setDone((all) => [...all, turned]);
      setUndone([]);
      if (!(await lay(id, before, after))) setDone((all) => all.filter((t) => t !== turned));
    },
    /** Whether the last thing done was to turn a page, and it is turned back. */
    undo(): boolean {
      const last = done.at(-1);
      if (!last || last.since !== keeper.newest) return false;
      lay(last.id, last.after, last.before);
      setDone(done.slice(0, -1));
      setUndone([...undone, last]);
      return true;
    },
    redo(): boolean {
      const last = undone.at(-1);
      if (!last || last.since !== keeper.newest) return false;
      lay(last.id, last.before, last.after);
      setUndone(undone.slice(0, -1));
      setDone([...done, last]);
      return true;
    },
  };
}
