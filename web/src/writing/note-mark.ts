import { Mark, mergeAttributes } from '@tiptap/core';

/** What a student notes about words of their own text. It lies at the words, and moves with them. */
export const NoteMark = Mark.create({
  name: 'note',
  inclusive: false,
  addAttributes: () => ({
    words: { default: '', parseHTML: (el: HTMLElement) => el.dataset.note ?? '', renderHTML: () => ({}) },
  }),
  parseHTML: () => [{ tag: 'span[data-note]' }],
  renderHTML: ({ mark, HTMLAttributes }) => [
    'span',
    mergeAttributes(HTMLAttributes, {
      class: 'own-note',
      'data-note': mark.attrs.words,
      title: mark.attrs.words,
    }),
    0,
  ],
});
