import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { AssignmentId, ClassId, CopyId } from '@jotmark/core';
import { QueryClient } from '@tanstack/react-query';
import { describe, expect, test } from 'vitest';
import { keys } from './keys.ts';
import { tell } from './stale.ts';

const assignmentId = 'a' as AssignmentId;
const copyId = 'c' as CopyId;

function known(...all: (readonly string[])[]) {
  const client = new QueryClient();
  for (const key of all) client.setQueryData(key, 'known');
  return {
    client,
    stale: () =>
      client
        .getQueryCache()
        .getAll()
        .filter((q) => q.state.isInvalidated)
        .map((q) => q.queryKey.join('/'))
        .sort(),
    there: () =>
      client
        .getQueryCache()
        .getAll()
        .map((q) => q.queryKey.join('/'))
        .sort(),
  };
}

describe('what an act makes stale', () => {
  test('a grade written in the pile: the pile and Today are asked again, the desk of that copy is let go, others stay', () => {
    const k = known(keys.pile(assignmentId), keys.today, keys.desk(copyId), keys.desk('d' as CopyId));
    tell(k.client, 'slipWritten', { copyId });
    expect(k.stale()).toEqual(['pile/a', 'today']);
    expect(k.there()).toEqual(['desk/d', 'pile/a', 'today']);
  });

  test('a blind pile leaves nothing with a name in it', () => {
    const k = known(
      keys.desk(copyId),
      keys.beside(copyId),
      keys.messages(copyId),
      keys.unread,
      keys.room(assignmentId),
      keys.look(copyId),
      keys.trail(copyId),
      keys.session,
    );
    tell(k.client, 'madeBlind', { assignmentId });
    expect(k.there()).toEqual(['session']);
  });

  test('taking back makes the list of work stale and not the copy, which has its answer already', () => {
    const k = known(keys.myWork, keys.work(copyId));
    tell(k.client, 'takenBack', {});
    expect(k.stale()).toEqual(['my-work']);
  });

  test('one class among several', () => {
    const k = known(keys.assignments('x' as ClassId), keys.assignments('y' as ClassId));
    tell(k.client, 'assignmentStarted', { classId: 'x' as ClassId });
    expect(k.stale()).toEqual(['assignments/x']);
    tell(k.client, 'assignmentMoved', {});
    expect(k.stale()).toEqual(['assignments/x', 'assignments/y']);
  });

  test('no key is written by hand outside this room', () => {
    const root = join(import.meta.dirname, '..');
    for (const file of readdirSync(root, { recursive: true, encoding: 'utf8' })) {
      if (!/\.tsx?$/.test(file) || /\.test\.|^ask\//.test(file)) continue;
      const code = readFileSync(join(root, file), 'utf8');
      expect(code, file).not.toMatch(/queryKey: ?\[|QueryData\(\s*\[|invalidateQueries/);
    }
  });
});
