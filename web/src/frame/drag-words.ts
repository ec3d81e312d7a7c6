import type { Announcements } from '@dnd-kit/core';

const ORDINALS = [
  'first',
  'second',
  'third',
  'fourth',
  'fifth',
  'sixth',
  'seventh',
  'eighth',
  'ninth',
  'tenth',
];
const NUMBERS = ['none', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine', 'ten'];

/** "Red pen is now fourth of ten": where something stands in its list, counted from 0. */
export const standsWords = (name: string, at: number, count: number): string =>
  `${name} is now ${ORDINALS[at] ?? `number ${at + 1}`} of ${NUMBERS[count] ?? count}`;

/** Says to who hears the page what became of a move that no drag made. */
export function announce(words: string): void {
  let region = document.getElementById('said-moves');
  if (!region) {
    region = document.createElement('div');
    region.id = 'said-moves';
    region.setAttribute('aria-live', 'polite');
    region.className = 'sr-only';
    document.body.append(region);
  }
  region.textContent = words;
}

/** What who hears the page is told while something is dragged in a list. `names` in their order, by the ids of the list. */
export function dragWords(names: ReadonlyMap<string, string>): Announcements {
  const ids = [...names.keys()];
  const name = (id: unknown) => names.get(String(id)) ?? 'It';
  const stands = (id: unknown, over: unknown) => standsWords(name(id), ids.indexOf(String(over)), ids.length);
  return {
    onDragStart: ({ active }) => `${name(active.id)} is picked up.`,
    onDragOver: ({ active, over }) => (over ? `${stands(active.id, over.id)}.` : undefined),
    onDragEnd: ({ active, over }) =>
      `${over ? stands(active.id, over.id) : `${name(active.id)} stays where it was`}.`,
    onDragCancel: ({ active }) => `${name(active.id)} is back where it was.`,
  };
}
