import { LINED, pictureSize } from '@jotmark/core';
import { Node } from '@tiptap/core';
import Image from '@tiptap/extension-image';
import { goToNextCell, tableEditing } from '@tiptap/pm/tables';
import StarterKit from '@tiptap/starter-kit';
import { originalOf } from '../paper/Enclosures.tsx';
import { NoteMark } from './note-mark.ts';

const side = (name: string) => ({
  default: 400,
  parseHTML: () => 400,
  renderHTML: (attributes: Record<string, unknown>) => ({ [`data-${name}`]: attributes[name] }),
});

/** A picture is a document of the copy: the editor shows its bytes and keeps its id and shape. It takes whole lines, as on the pages. */
export const Picture = Image.extend({
  addAttributes() {
    return { src: { default: '' }, alt: { default: '' }, wide: side('wide'), high: side('high') };
  },
  renderHTML({ node }) {
    const { src, alt, wide, high } = node.attrs as Record<string, unknown>;
    const { width, height, lines } = pictureSize(Number(wide) || 400, Number(high) || 400);
    const source = String(src);
    return [
      'div',
      { class: 'shown', style: `height: calc(${lines * LINED.leading}px * var(--z))` },
      [
        'img',
        {
          src: source.startsWith('document:') ? originalOf(source.slice('document:'.length)) : '',
          alt: String(alt ?? ''),
          style: `width: calc(${width}px * var(--z)); height: calc(${height}px * var(--z))`,
        },
      ],
    ];
  },
  // A picture pasted from elsewhere is an address of another server: it is not taken.
  parseHTML: () => [],
});

const span = (name: string) => ({
  default: 1,
  parseHTML: (el: HTMLElement) => Number(el.getAttribute(name)) || 1,
});
const cell = (name: string, tag: 'td' | 'th') =>
  Node.create({
    name,
    content: 'paragraph+',
    isolating: true,
    addAttributes: () => ({
      colspan: span('colspan'),
      rowspan: span('rowspan'),
      colwidth: { default: null },
    }),
    parseHTML: () => [{ tag }],
    renderHTML: () => [tag, 0],
  });

const TableRow = Node.create({
  name: 'tableRow',
  content: '(tableCell | tableHeader)*',
  parseHTML: () => [{ tag: 'tr' }],
  renderHTML: () => ['tr', 0],
});

const ROLES: Readonly<Record<string, string>> = {
  table: 'table',
  tableRow: 'row',
  tableCell: 'cell',
  tableHeader: 'header_cell',
};

/** Tables of whole cells. Tab goes on to the next. */
const Table = Node.create({
  name: 'table',
  content: 'tableRow+',
  group: 'block',
  isolating: true,
  // By these names the library of tables knows what is what.
  extendNodeSchema: ({ name }) => (name in ROLES ? { tableRole: ROLES[name] } : {}),
  parseHTML: () => [{ tag: 'table' }],
  renderHTML: () => ['table', ['tbody', 0]],
  addProseMirrorPlugins: () => [tableEditing()],
  addKeyboardShortcuts() {
    const go = (way: 1 | -1) => () => goToNextCell(way)(this.editor.state, this.editor.view.dispatch);
    return { Tab: go(1), 'Shift-Tab': go(-1) };
  },
});

/** What a text that grows can be made of. Its past is kept by the shared text, not by the editor. */
export const NODES = [
  StarterKit.configure({
    heading: { levels: [2, 3] },
    blockquote: false,
    code: false,
    codeBlock: false,
    horizontalRule: false,
    strike: false,
    underline: false,
    undoRedo: false,
    trailingNode: false,
    link: { openOnClick: false, autolink: true },
  }),
  NoteMark,
  Picture,
  Table,
  TableRow,
  cell('tableCell', 'td'),
  cell('tableHeader', 'th'),
];
