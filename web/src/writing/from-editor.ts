import type { DocumentId, LongBlock, LongCell, LongInline, LongItem } from '@jotmark/core';
import type { Node } from '@tiptap/pm/model';

/** A block of the editor as core's value; what core has no form for is left out, its words are kept. */
export function blockFrom(node: Node): LongBlock[] {
  switch (node.type.name) {
    case 'paragraph':
      return [{ type: 'paragraph', content: inlinesFrom(node) }];
    case 'heading':
      return [{ type: 'heading', level: node.attrs.level === 3 ? 3 : 2, content: inlinesFrom(node) }];
    case 'image':
      return [
        {
          type: 'picture',
          document: String(node.attrs.src).replace(/^document:/, '') as DocumentId,
          alt: String(node.attrs.alt ?? ''),
          wide: Number(node.attrs.wide) || 400,
          high: Number(node.attrs.high) || 400,
        },
      ];
    case 'bulletList':
    case 'orderedList':
      return [
        {
          type: 'list',
          numbered: node.type.name === 'orderedList',
          items: node.children.map((item): LongItem => item.children.flatMap(blockFrom)),
        },
      ];
    case 'table':
      return [
        {
          type: 'table',
          rows: node.children.map((row) =>
            row.children.map(
              (cell): LongCell => ({
                head: cell.type.name === 'tableHeader',
                content: cell.children.flatMap(blockFrom),
              }),
            ),
          ),
        },
      ];
    default:
      return node.children.flatMap(blockFrom);
  }
}

function inlinesFrom(node: Node): LongInline[] {
  return node.children.flatMap((child): LongInline[] => {
    if (child.type.name === 'hardBreak') return [{ text: '\n' }];
    if (!child.isText) return [];
    const mark = (name: string) => child.marks.find((m) => m.type.name === name);
    const href = mark('link')?.attrs.href as string | undefined;
    return [
      {
        text: child.text ?? '',
        ...(mark('bold') && { bold: true }),
        ...(mark('italic') && { italic: true }),
        ...(href && { href }),
        ...(mark('note') && { note: String(mark('note')!.attrs.words) }),
      },
    ];
  });
}

/** The words of the editor's text, as core reads them. */
export function plainFrom(doc: Node): string {
  const lines: string[] = [];
  doc.descendants((node) => {
    if (node.isTextblock) {
      lines.push(node.textBetween(0, node.content.size, '\n', '\n'));
      return false;
    }
    if (node.type.name !== 'tableRow') return true;
    lines.push(node.children.map((cell) => plainFrom(cell).replaceAll('\n', ' ')).join('\t'));
    return false;
  });
  return lines.join('\n');
}

/** Where a letter of those words stands in the editor's text. What parts blocks, cells and items is one letter each. */
export function positionOf(doc: Node, letter: number): number {
  let before = 0;
  let found = -1;
  let last = 0;
  doc.descendants((node, pos) => {
    if (found >= 0) return false;
    if (!node.isTextblock) return true;
    last = pos + 1 + node.content.size;
    if (letter <= before + node.content.size) found = pos + 1 + Math.max(0, letter - before);
    before += node.content.size + 1;
    return false;
  });
  return found < 0 ? last : found;
}
