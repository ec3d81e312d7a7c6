import type { Active, Announcements, Over } from '@dnd-kit/core';
import { type Phrase, plainWords } from '@jotmark/core';
import { standsWords } from '../frame/drag-words.ts';

/** What who hears the page is told while a phrase is dragged onto a group, or a group to another place. */
export function bankDragWords(groups: readonly string[], phrases: readonly Phrase[]): Announcements {
  const nameOf = ({ id, data }: Active): string =>
    data.current?.of === 'group'
      ? `Group ${data.current.name}`
      : `“${plainWords(phrases.find((p) => p.id === id)?.words ?? '').slice(0, 40)}”`;
  const over = (active: Active, onto: Over | null): string | null => {
    if (!onto?.data.current) return null;
    const group = String(onto.data.current.name);
    return active.data.current?.of === 'group'
      ? group && standsWords(nameOf(active), groups.indexOf(group), groups.length)
      : `${nameOf(active)} is on ${group ? `group ${group}` : 'no group'}`;
  };
  return {
    onDragStart: ({ active }) => `${nameOf(active)} is picked up.`,
    onDragOver: ({ active, over: onto }) => over(active, onto) || undefined,
    onDragEnd: ({ active, over: onto }) => `${over(active, onto) || `${nameOf(active)} stays where it was`}.`,
    onDragCancel: ({ active }) => `${nameOf(active)} is back where it was.`,
  };
}
