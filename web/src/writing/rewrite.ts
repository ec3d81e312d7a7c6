import { textStep } from '@jotmark/core';
import * as Y from 'yjs';
import { fromBase64, toBase64 } from './base64.ts';
import { FIELD } from './text-doc.ts';

/** A text that grows, which is not open: its words, and how they are made to read otherwise. */
export class ClosedText {
  readonly #doc = new Y.Doc();

  constructor(update: string) {
    Y.applyUpdate(this.#doc, fromBase64(update));
  }

  get words(): string {
    return this.#blocks()
      .map((b) => wordsOf(b))
      .join('\n');
  }

  /** Makes it read so, by the smallest change, and gives what is to be merged for it. Null: the change would go over the end of a paragraph. */
  rewrite(words: string): string | null {
    const step = textStep(this.words, words);
    if (step[0] !== 't') return null;
    const [, at, cut, put] = step;
    let start = 0;
    for (const block of this.#blocks()) {
      const end = start + wordsOf(block).length;
      if (at <= end) {
        if (at + cut > end || put.includes('\n')) return null;
        const before = Y.encodeStateVector(this.#doc);
        this.#doc.transact(() => replaceIn(block, at - start, cut, put));
        return toBase64(Y.encodeStateAsUpdate(this.#doc, before));
      }
      start = end + 1;
    }
    return null;
  }

  /** Paragraphs and headings, wherever they stand. */
  #blocks(): Y.XmlElement[] {
    const out: Y.XmlElement[] = [];
    const within = (parent: Y.XmlFragment): void => {
      for (const node of parent.toArray()) {
        if (!(node instanceof Y.XmlElement)) continue;
        if (node.nodeName === 'paragraph' || node.nodeName === 'heading') out.push(node);
        else within(node);
      }
    };
    within(this.#doc.getXmlFragment(FIELD));
    return out;
  }
}

const textsIn = (block: Y.XmlElement) => block.toArray();
const lengthOf = (node: unknown): number => (node instanceof Y.XmlText ? node.length : 1);
const wordsOf = (block: Y.XmlElement): string =>
  textsIn(block)
    .map((n) =>
      n instanceof Y.XmlText
        ? (n.toDelta() as { insert?: unknown }[])
            .map((d) => (typeof d.insert === 'string' ? d.insert : ' '))
            .join('')
        : '\n',
    )
    .join('');

function replaceIn(block: Y.XmlElement, at: number, cut: number, put: string): void {
  let start = 0;
  let left = cut;
  let written = false;
  for (const node of textsIn(block)) {
    const length = lengthOf(node);
    const from = Math.max(0, at - start);
    if (node instanceof Y.XmlText && from <= length && (left > 0 || !written)) {
      const gone = Math.min(left, length - from);
      if (gone > 0) node.delete(from, gone);
      if (!written) node.insert(from, put);
      left -= gone;
      written = true;
    }
    start += length;
  }
  if (written) return;
  const text = new Y.XmlText();
  block.insert(0, [text]);
  text.insert(0, put);
}
