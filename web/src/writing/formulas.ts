import { formulaAt } from '@jotmark/core';
import type { Formula } from '@jotmark/core/formula';
import { Extension } from '@tiptap/core';
import type { Node } from '@tiptap/pm/model';
import { Plugin } from '@tiptap/pm/state';
import { Decoration, DecorationSet } from '@tiptap/pm/view';
import { formulasFor } from '../paper/looks.ts';

/** Formulas are typed between dollar signs. One in which nobody is typing is shown drawn; what was typed is still there. */
export const Formulas = Extension.create({
  name: 'formulas',
  addProseMirrorPlugins: () => [
    new Plugin({
      props: {
        decorations: ({ doc, selection }) => {
          if (!doc.textContent.includes('$')) return null;
          const out: Decoration[] = [];
          doc.descendants((node, pos) => {
            if (!node.isTextblock) return true;
            for (const { from, to, tex } of formulasIn(node, pos + 1)) {
              if (selection.from <= to && selection.to >= from) continue;
              const drawn = formulasFor('$')?.(tex);
              if (!drawn?.ok) continue;
              out.push(Decoration.inline(from, to, { class: 'formula-typed' }));
              out.push(Decoration.widget(from, () => picture(tex, drawn), { key: tex }));
            }
            return false;
          });
          return DecorationSet.create(doc, out);
        },
      },
    }),
  ],
});

/** Formulas of a block, by where they stand. */
function formulasIn(block: Node, start: number): { from: number; to: number; tex: string }[] {
  const words = block.textBetween(0, block.content.size, '\ufffc', '\ufffc');
  const out: { from: number; to: number; tex: string }[] = [];
  for (let i = words.indexOf('$'); i >= 0; i = words.indexOf('$', i)) {
    const found = formulaAt(words, i);
    if (found) out.push({ from: start + i, to: start + i + found.length, tex: found.tex });
    i += found ? found.length : 1;
  }
  return out;
}

const SVG = 'http://www.w3.org/2000/svg';
/** A line is no higher with a formula than without. */
const HIGHEST = 1.24;

function picture(tex: string, { width, above, below, parts }: Extract<Formula, { ok: true }>): SVGElement {
  const scale = Math.min(1, HIGHEST / (above + below));
  const svg = document.createElementNS(SVG, 'svg');
  svg.setAttribute('viewBox', `0 ${-above * 1000} ${width * 1000} ${(above + below) * 1000}`);
  svg.setAttribute('role', 'img');
  svg.setAttribute('aria-label', tex);
  svg.style.cssText = `display:inline-block;width:${width * scale}em;height:${(above + below) * scale}em;vertical-align:${-below * scale}em`;
  // Outlines have y upwards.
  const upright = document.createElementNS(SVG, 'g');
  upright.setAttribute('transform', 'scale(1 -1)');
  for (const { d, at } of parts) {
    const path = document.createElementNS(SVG, 'path');
    path.setAttribute('d', d);
    path.setAttribute('transform', `matrix(${at.join(' ')})`);
    path.setAttribute('fill', 'currentColor');
    upright.append(path);
  }
  svg.append(upright);
  return svg;
}
