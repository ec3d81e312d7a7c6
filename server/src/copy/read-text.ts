import {
  DEEPEST_TEXT,
  DocumentId,
  type LongBlock,
  type LongInline,
  type LongText,
  MOST_OF_A_NOTE,
  MOST_PIXELS,
  SafeAddress,
} from '@jotmark/core';
import * as Y from 'yjs';

/** The name under which the editor keeps its text in the shared document. */
export const FIELD = 'text';

/**
 * How a shared text reads. What a browser sends is merged without being understood; here it becomes a value: what the value has no form for is left
 * out, its words are kept.
 */
export const readText = (doc: Y.Doc): LongText => ({
  type: 'doc',
  content: blocksIn(doc.getXmlFragment(FIELD), 0),
});

function blocksIn(parent: Y.XmlFragment | Y.XmlElement, depth: number): LongBlock[] {
  const out: LongBlock[] = [];
  for (const node of parent.toArray()) {
    if (node instanceof Y.XmlText) {
      const content = runsOf(node);
      if (content.length) out.push({ type: 'paragraph', content });
    } else if (node instanceof Y.XmlElement) out.push(...blockOf(node, depth));
  }
  return out;
}

function blockOf(node: Y.XmlElement, depth: number): LongBlock[] {
  const nested = depth < DEEPEST_TEXT;
  switch (node.nodeName) {
    case 'paragraph':
      return [{ type: 'paragraph', content: inlinesIn(node) }];
    case 'heading':
      return [
        { type: 'heading', level: Number(attribute(node, 'level')) === 3 ? 3 : 2, content: inlinesIn(node) },
      ];
    case 'image':
      return pictureOf(node);
    case 'bulletList':
    case 'orderedList':
      if (!nested) return blocksIn(node, depth);
      return [
        {
          type: 'list',
          numbered: node.nodeName === 'orderedList',
          items: elementsIn(node).map((item) => blocksIn(item, depth + 1)),
        },
      ];
    case 'table':
      if (!nested) return blocksIn(node, depth);
      return [
        {
          type: 'table',
          rows: elementsIn(node).map((row) =>
            elementsIn(row).map((cell) => ({
              head: cell.nodeName === 'tableHeader',
              content: blocksIn(cell, depth + 1),
            })),
          ),
        },
      ];
    default:
      return blocksIn(node, depth);
  }
}

const elementsIn = (node: Y.XmlElement): Y.XmlElement[] =>
  node.toArray().filter((n) => n instanceof Y.XmlElement);
const attribute = (node: Y.XmlElement, name: string): unknown =>
  (node.getAttributes() as Record<string, unknown>)[name];

function pictureOf(node: Y.XmlElement): LongBlock[] {
  const source = String(attribute(node, 'src') ?? '');
  const document = DocumentId.safeParse(source.replace(/^document:/, ''));
  const side = (name: string) => {
    const value = Number(attribute(node, name));
    return value >= 1 && value <= MOST_PIXELS ? value : 400;
  };
  if (!source.startsWith('document:') || !document.success) return [];
  const alt = String(attribute(node, 'alt') ?? '').slice(0, 500);
  return [{ type: 'picture', document: document.data, alt, wide: side('wide'), high: side('high') }];
}

function inlinesIn(node: Y.XmlElement): LongInline[] {
  return node.toArray().flatMap((n): LongInline[] => {
    if (n instanceof Y.XmlText) return runsOf(n);
    return n instanceof Y.XmlElement && n.nodeName === 'hardBreak' ? [{ text: '\n' }] : [];
  });
}

interface Delta {
  readonly insert?: unknown;
  readonly attributes?: Readonly<Record<string, unknown>>;
}

function runsOf(node: Y.XmlText): LongInline[] {
  return (node.toDelta() as Delta[]).flatMap(({ insert, attributes = {} }): LongInline[] => {
    if (typeof insert !== 'string' || insert === '') return [];
    const href = SafeAddress.safeParse((attributes.link as { href?: unknown } | undefined)?.href);
    const words = (attributes.note as { words?: unknown } | undefined)?.words;
    const note = typeof words === 'string' ? words.trim() : '';
    return [
      {
        text: insert,
        ...(attributes.bold !== undefined && { bold: true }),
        ...(attributes.italic !== undefined && { italic: true }),
        ...(href.success && { href: href.data }),
        ...(note && { note: note.slice(0, MOST_OF_A_NOTE) }),
      },
    ];
  });
}
