import type { Mark, PageView, TextMark } from '@jotmark/core';
import type { ComponentProps } from 'react';
import type { ShownPage } from '../paper/page-list.ts';
import { PageWords } from './PageWords.tsx';
import { PickedFrame } from './PickedFrame.tsx';

type Frame = ComponentProps<typeof PickedFrame>;

interface Props {
  readonly page: ShownPage;
  readonly view: PageView;
  /** Words on the page that are being written. */
  readonly written: TextMark | null;
  readonly picked: readonly Mark[];
  readonly pens: Frame['pens'];
  readonly does: Omit<Frame, 'marks' | 'view' | 'pens'> & {
    onWords(mark: TextMark, words: string): void;
    onLeave(): void;
  };
}

/** What lies over one page while it is marked: words that are being written, and the frame round what is picked. */
export function OverPage({ page, view, written, picked, pens, does }: Props) {
  const { onWords, onLeave, ...frame } = does;
  const here = (mark: Mark) => mark.page === page.page && mark.document === page.document;
  const marks = picked.filter(here);
  return (
    <>
      {written && here(written) && (
        <PageWords
          key={written.id}
          mark={written}
          view={view}
          onWords={(words) => onWords(written, words)}
          onLeave={onLeave}
        />
      )}
      {marks.length > 0 && <PickedFrame {...frame} pens={pens} marks={marks} view={view} />}
    </>
  );
}
