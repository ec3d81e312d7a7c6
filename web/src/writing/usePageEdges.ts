import { type LaidLine, LINED, layBlock, layPages } from '@jotmark/core';
import type { Editor } from '@tiptap/core';
import type { Node } from '@tiptap/pm/model';
import { useEffect, useState } from 'react';
import { formulasFor } from '../paper/looks.ts';
import { measureText } from '../paper/measure.ts';
import { blockFrom } from './from-editor.ts';
import type { PageEdge } from './LinedPaper.tsx';

/** The pages are looked for when writing rests, in milliseconds. */
const REST_MS = 700;

/** The editor's blocks never change, they are replaced: what did not change need not be laid again. */
const laid = new WeakMap<Node, readonly LaidLine[]>();

function linesOf(node: Node): readonly LaidLine[] {
  const known = laid.get(node);
  if (known) return known;
  const setting = { measure: measureText, formulas: formulasFor(node.textContent) };
  const lines = blockFrom(node).flatMap((block) => layBlock(block, setting));
  laid.set(node, lines);
  return lines;
}

export interface Pages {
  readonly count: number;
  readonly edges: readonly PageEdge[];
}

/** Where the pages will end that this text becomes, set by the very code that sets them. */
export function usePageEdges(editor: Editor | null, zoom: number): Pages {
  const [pages, setPages] = useState<Pages>({ count: 1, edges: [] });
  useEffect(() => {
    if (!editor) return;
    let clock: ReturnType<typeof setTimeout> | undefined;
    const look = () => {
      clock = undefined;
      if (editor.isDestroyed) return;
      const { doc } = editor.state;
      const found = layPages(doc.children.map(linesOf));
      const edges = found.slice(1).flatMap(({ starts }, i): PageEdge[] => {
        const y = topOf(editor, starts.block, starts.line, zoom);
        return y === null ? [] : [{ page: i + 2, y }];
      });
      setPages({ count: found.length, edges });
    };
    const later = () => {
      clock ??= setTimeout(look, REST_MS);
    };
    later();
    editor.on('update', later);
    document.fonts?.ready.then(later);
    return () => {
      clearTimeout(clock);
      editor.off('update', later);
    };
  }, [editor, zoom]);
  return pages;
}

/** Where a line of a block stands, in CSS pixels from the top of the lines. */
function topOf(editor: Editor, block: number, line: number, zoom: number): number | null {
  const { doc } = editor.state;
  let pos = 0;
  for (let i = 0; i < block; i++) pos += doc.child(i).nodeSize;
  const element = editor.view.nodeDOM(pos);
  if (!(element instanceof HTMLElement)) return null;
  // The space above a heading is none of its own height.
  const above = doc.child(block).type.name === 'heading' && doc.child(block).attrs.level !== 3 ? 1 : 0;
  return element.offsetTop - LINED.top * zoom + (line - above) * LINED.leading * zoom;
}
