import { readWords, type WordsBlock, type WordsPart } from '@jotmark/core';
import { Paperclip } from 'lucide-react';
import { Fragment, memo, type ReactNode, useMemo } from 'react';
import { onDemand } from '../frame/on-demand.tsx';
import { originalOf } from '../paper/Enclosures.tsx';

/** Formulas are drawn by a library of their own, loaded when the first is seen. */
export const Formula = onDemand(() => import('./Formula.tsx').then((m) => m.Formula), {
  quiet: true,
  until: ({ tex }) => <span>{tex}</span>,
});

/** Words with their light form, drawn part by part. Nothing in them is ever taken as HTML. */
export const WordsShow = memo(function WordsShow({ words }: { words: string }) {
  const blocks = useMemo(() => readWords(words), [words]);
  return (
    <>
      {blocks.map((block, i) => (
        <Block key={i} block={block} />
      ))}
    </>
  );
});

function Block({ block }: { block: WordsBlock }) {
  if (block.as === 'line')
    return (
      <span dir="auto" className="block min-h-[1lh]">
        {block.parts.map((part, i) => draw(part, i))}
      </span>
    );
  const List = block.numbered ? 'ol' : 'ul';
  return (
    <List dir="auto" className={`my-0.5 pl-5 ${block.numbered ? 'list-decimal' : 'list-disc'}`}>
      {block.items.map((item, i) => (
        <li key={i}>{item.map((part, n) => draw(part, n))}</li>
      ))}
    </List>
  );
}

function draw(part: WordsPart, key: number): ReactNode {
  switch (part.as) {
    case 'text':
      return <Fragment key={key}>{part.text}</Fragment>;
    case 'bold':
      return <strong key={key}>{part.parts.map((p, i) => draw(p, i))}</strong>;
    case 'italic':
      return <em key={key}>{part.parts.map((p, i) => draw(p, i))}</em>;
    case 'link':
      return (
        <a key={key} href={part.href} className="text-action underline" {...ELSEWHERE}>
          {part.title}
        </a>
      );
    case 'file':
      return (
        <a key={key} href={originalOf(part.document)} className="text-action underline" {...ELSEWHERE}>
          <Paperclip size={13} aria-hidden="true" className="mr-0.5 inline" />
          {part.title}
        </a>
      );
    case 'formula':
      return <Formula key={key} tex={part.tex} />;
  }
}

/** A link leads away: to another tab, and the margin does not hear of it. */
const ELSEWHERE = {
  target: '_blank',
  rel: 'noopener noreferrer nofollow',
  onClick: (e: { stopPropagation(): void }) => e.stopPropagation(),
} as const;
