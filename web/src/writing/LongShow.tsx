import {
  type DocumentId,
  LINED,
  type LongBlock,
  type LongInline,
  type LongText,
  pictureSize,
} from '@jotmark/core';
import { Fragment, memo, type ReactNode } from 'react';
import { originalOf } from '../paper/Enclosures.tsx';
import { WordsFormula } from './WordsFormula.tsx';

/** A text that grows as it reads: the same lines as where it is written, and nothing to type in. Nothing in it is ever taken as HTML. */
export const LongShow = memo(function LongShow({ text, label }: { text: LongText; label: string }) {
  return (
    <div className="lined-text" role="document" aria-label={label} tabIndex={0} dir="auto" data-long>
      {text.content.map((block, i) => (
        <Fragment key={i}>{drawBlock(block)}</Fragment>
      ))}
    </div>
  );
});

function drawBlock(block: LongBlock): ReactNode {
  switch (block.type) {
    case 'paragraph':
      return <p>{drawInline(block.content)}</p>;
    case 'heading': {
      const Heading = block.level === 3 ? 'h3' : 'h2';
      return <Heading>{drawInline(block.content)}</Heading>;
    }
    case 'picture':
      return <Shown document={block.document} alt={block.alt} wide={block.wide} high={block.high} />;
    case 'list': {
      const List = block.numbered ? 'ol' : 'ul';
      return (
        <List>
          {block.items.map((item, i) => (
            <li key={i}>{drawBlocks(item)}</li>
          ))}
        </List>
      );
    }
    case 'table':
      return (
        <table>
          <tbody>
            {block.rows.map((row, i) => (
              <tr key={i}>
                {row.map((cell, k) =>
                  cell.head ? (
                    <th key={k}>{drawBlocks(cell.content)}</th>
                  ) : (
                    <td key={k}>{drawBlocks(cell.content)}</td>
                  ),
                )}
              </tr>
            ))}
          </tbody>
        </table>
      );
  }
}

const drawBlocks = (blocks: readonly LongBlock[]): ReactNode =>
  blocks.map((block, i) => <Fragment key={i}>{drawBlock(block)}</Fragment>);

function Shown({
  document,
  alt,
  wide,
  high,
}: {
  document: DocumentId;
  alt: string;
  wide: number;
  high: number;
}) {
  const { width, height, lines } = pictureSize(wide, high);
  return (
    <div className="shown" style={{ height: `calc(${lines * LINED.leading}px * var(--z))` }}>
      <img
        src={originalOf(document)}
        alt={alt}
        style={{ width: `calc(${width}px * var(--z))`, height: `calc(${height}px * var(--z))` }}
      />
    </div>
  );
}

function drawInline(content: readonly LongInline[]): ReactNode {
  return content.map((inline, i) => <Fragment key={i}>{drawWords(inline)}</Fragment>);
}

function drawWords({ text, bold, italic, href, note }: LongInline): ReactNode {
  if (text === '\n') return <br />;
  let out: ReactNode = text.includes('$') ? <WordsFormula words={text} /> : text;
  if (bold) out = <strong>{out}</strong>;
  if (italic) out = <em>{out}</em>;
  if (note)
    out = (
      <span className="own-note" title={note}>
        {out}
      </span>
    );
  return href ? (
    <a href={href} target="_blank" rel="noopener noreferrer nofollow">
      {out}
    </a>
  ) : (
    out
  );
}
