import { type Rubric, type RubricShape, same } from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { keepText } from '../outbox/kept-text.ts';

/** How long edits rest before they are kept. */
const REST_MS = 700;

interface Edited {
  readonly name: string;
  readonly rubric: Rubric;
}

/** A rubric while it is made: it keeps itself; an edit elsewhere is told and not swallowed; what was typed into a tab that died stands there again. */
export function useRubricEdit(shape: RubricShape) {
  const client = useQueryClient();
  const place = `jotmark.rubric.${shape.id}.${shape.versionId}`;
  const [now, setNow] = useState<Edited>(() => left(place) ?? { name: shape.name, rubric: shape.rubric });
  const save = useMutation({
    mutationFn: (edit: Edited) =>
      call('saveRubric', {
        params: { rubricId: shape.id },
        body: { ...edit, name: edit.name.trim(), versionId: shape.versionId },
      }),
    onSuccess: (next) => {
      keepText(place, '');
      client.setQueryData(keys.rubric(shape.id), next);
      tell(client, 'rubricChanged', {});
    },
  });
  const { mutate, isPending } = save;
  const dirty = now.name.trim() !== shape.name || !same(now.rubric, shape.rubric);
  const whole = now.name.trim() !== '' && now.rubric.criteria.every((c) => c.name.trim() !== '');
  const refused = save.error instanceof CallFailed && save.error.code !== 'offline';
  useEffect(() => {
    if (!dirty || !whole || isPending || refused || !shape.mine) return;
    const clock = setTimeout(() => mutate(now), REST_MS);
    return () => clearTimeout(clock);
  }, [dirty, whole, isPending, refused, shape.mine, now, mutate, save.submittedAt]);
  const change = (next: Partial<Edited>) => {
    if (save.error) save.reset();
    const made = { ...now, ...next };
    keepText(place, JSON.stringify(made));
    setNow(made);
  };
  return {
    ...now,
    change,
    dirty,
    /** Every criterion has a name: else it waits. */
    whole,
    busy: isPending,
    error: save.error,
    async takeNewest() {
      keepText(place, '');
      const next = await call('rubric', { params: { rubricId: shape.id } });
      save.reset();
      client.setQueryData(keys.rubric(shape.id), next);
      setNow({ name: next.name, rubric: next.rubric });
    },
  };
}

function left(place: string): Edited | null {
  try {
    const text = localStorage.getItem(place);
    if (!text) return null;
    const { name, rubric } = JSON.parse(text);
    return typeof name === 'string' && Array.isArray(rubric?.criteria) ? { name, rubric } : null;
  } catch {
    return null;
  }
}
