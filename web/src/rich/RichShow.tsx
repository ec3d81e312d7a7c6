import type { RichBlock, RichInline, RichText } from '@jotmark/core';
import { Fragment, type ReactNode } from 'react';

/** Draws rich text node by node. Nothing in it is ever taken as HTML. `pictureAt` says where a picture's bytes are. */
export function RichShow({ text, pictureAt }: { text: RichText; pictureAt: (documentId: string) => string }) {
  return (
    <div className="rich">
      {text.content.map((block, i) => (
        <Fragment key={i}>{drawBlock(block, pictureAt)}</Fragment>
      ))}
    </div>
  );
}

function drawBlock(block: RichBlock, pictureAt: (id: string) => string): ReactNode {
  switch (block.type) {
    case 'paragraph':
      return <p>{drawInline(block.content)}</p>;
    case 'heading':
      return block.attrs.level === 2 ? (
        <h2>{drawInline(block.content)}</h2>
      ) : (
        <h3>{drawInline(block.content)}</h3>
      );
    case 'image':
      return <img src={pictureAt(block.attrs.src.slice('document:'.length))} alt={block.attrs.alt ?? ''} />;
    default: {
      const List = block.type === 'bulletList' ? 'ul' : 'ol';
      return (
        <List>
          {block.content.map((item, i) => (
            <li key={i}>
              {item.content.map((inner, k) => (
                <Fragment key={k}>{drawBlock(inner, pictureAt)}</Fragment>
              ))}
            </li>
          ))}
        </List>
      );
    }
  }
}

function drawInline(content: readonly RichInline[] | undefined): ReactNode {
  return (content ?? []).map((inline, i) => <Fragment key={i}>{drawWords(inline)}</Fragment>);
}

function drawWords(inline: RichInline): ReactNode {
  if (inline.type === 'hardBreak') return <br />;
  let out: ReactNode = inline.text ?? '';
  for (const mark of inline.marks ?? []) {
    if (mark.type === 'bold') out = <strong>{out}</strong>;
    else if (mark.type === 'italic') out = <em>{out}</em>;
    else
      out = (
        <a href={mark.attrs.href} target="_blank" rel="noopener noreferrer nofollow">
          {out}
        </a>
      );
  }
  return out;
}
