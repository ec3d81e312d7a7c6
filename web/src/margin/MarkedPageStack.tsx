import type { Box, DocumentId, Mark, NoteMark, PageFrame, QuarterTurn } from '@jotmark/core';
import { PageOverlay } from '../paper/PageOverlay.tsx';
import { PageSheet, viewOf } from '../paper/PageSheet.tsx';
import { MarginColumn } from './MarginColumn.tsx';

interface Props {
  readonly document: DocumentId;
  readonly pages: readonly { readonly frame: PageFrame; readonly turn: QuarterTurn }[];
  readonly zoom: number;
  /** The marks of each page. */
  readonly byPage: readonly (readonly Mark[])[];
  readonly picked: Mark | null;
  /** Words picked with the keyboard on a page, as boxes; none by default. */
  readonly wordsOn?: (page: number) => readonly Box[];
  readonly active: string | null;
  /** What can be done in the margin; without it the margin is for reading. */
  readonly writing?: {
    readonly editing: boolean;
    onWords(note: NoteMark, words: string): void;
    onRemove(note: NoteMark): void;
  };
  onActivate(note: NoteMark | null, edit: boolean): void;
}

/** All pages of a document one below the other, each with its marks and its margin: on the desk and in the student's hands alike. */
export function MarkedPageStack(p: Props) {
  return (
    <div className="mx-auto flex w-max flex-col gap-5">
      {p.pages.map(({ frame, turn }, i) => {
        const view = viewOf(frame, turn, p.zoom);
        const marks = p.byPage[i] ?? [];
        const notes = marks.filter((m): m is NoteMark => m.kind === 'note');
        return (
          <div key={i} className="flex self-center shadow-md">
            <PageSheet
              document={p.document}
              page={i}
              frame={frame}
              turn={turn}
              zoom={p.zoom}
              marks={marks}
              label={`Page ${i + 1} of ${p.pages.length}`}
            >
              <PageOverlay
                notes={notes}
                picked={p.picked?.page === i ? p.picked : null}
                words={p.wordsOn?.(i) ?? []}
                view={view}
              />
            </PageSheet>
            <MarginColumn
              notes={notes}
              view={view}
              active={p.active}
              editing={p.writing?.editing ?? false}
              readOnly={!p.writing}
              onActivate={p.onActivate}
              onWords={p.writing?.onWords ?? nothing}
              onRemove={p.writing?.onRemove ?? nothing}
            />
          </div>
        );
      })}
    </div>
  );
}

const nothing = () => {};
