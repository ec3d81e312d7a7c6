import {
  type Box,
  boxToScreen,
  type DocumentId,
  fillsItsPage,
  type Mark,
  type MessagePlace,
  type PageView,
  type Question,
  type QuestionId,
  toScreen,
} from '@jotmark/core';
import { memo, type ReactNode, useMemo } from 'react';
import { PageHeading } from '../paper/PageHeading.tsx';
import { PageOverlay } from '../paper/PageOverlay.tsx';
import { PageSheet, viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';
import { WordsShow } from '../words/WordsShow.tsx';
import { AnswerField } from './AnswerField.tsx';

interface Props {
  readonly pages: readonly ShownPage[];
  readonly zoom: number;
  readonly byPage: readonly (readonly Mark[])[];
  readonly picked: readonly Mark[];
  /** The questions of each page that take something typed, in the order they are read. */
  readonly questions: readonly (readonly Question[])[];
  readonly numbers: ReadonlyMap<QuestionId, string>;
  /** Words of the teacher that point to spots. */
  readonly pins?: readonly Pin[];
  /** What else lies over a page. */
  over?(page: ShownPage, view: PageView): ReactNode;
  /** An answer that grows: its lined pages, in the place of its page or behind it. */
  long?(question: Question, number: string): ReactNode;
  answerAt(question: QuestionId): string;
  /** Left out: nothing is typed here, it is only read. */
  onType?(question: Question, value: string): void;
  onFocus?(question: Question): void;
}

export interface Pin {
  readonly id: string;
  readonly place: MessagePlace;
  readonly words: string;
  /** A change of wording that is proposed there. */
  readonly instead?: {
    readonly quoted: string;
    /** Null: nothing, the words go. */
    readonly words: string | null;
    onAccept(): void;
  };
}

const NONE: readonly Mark[] = [];
const nothing = () => {};

/** The student's own pages, one below the other: clean print, drawing, and the answers in their places. */
export function SheetStack(p: Props) {
  return (
    <div className="mx-auto flex w-max flex-col gap-5">
      {p.pages.map(({ document, page, frame, turn, heading }, i) => (
        <div key={`${document}/${page}`} className="flex flex-col self-center">
          {heading && <PageHeading>{heading}</PageHeading>}
          {longOn(p.questions[i]).map((q) => (
            <div key={q.id} data-index={i} className={`relative ${fillsItsPage(q) ? '' : 'order-last mt-5'}`}>
              {p.long?.(q, p.numbers.get(q.id) ?? '')}
              {fillsItsPage(q) && (
                <>
                  <Pins pins={pinsOn(p.pins, document, page)} view={viewOf(frame, turn, p.zoom)} />
                  {p.over?.(p.pages[i]!, viewOf(frame, turn, p.zoom))}
                </>
              )}
            </div>
          ))}
          {!longOn(p.questions[i]).some(fillsItsPage) && (
            <div className="shadow-md">
              <PageSheet
                document={document}
                page={page}
                index={i}
                frame={frame}
                turn={turn}
                zoom={p.zoom}
                marks={p.byPage[i] ?? NONE}
                label={`Page ${i + 1} of ${p.pages.length}`}
              >
                <PageOverlay
                  notes={[]}
                  picked={p.picked.filter((m) => m.document === document && m.page === page)}
                  words={[]}
                  view={viewOf(frame, turn, p.zoom)}
                />
                <Pins pins={pinsOn(p.pins, document, page)} view={viewOf(frame, turn, p.zoom)} />
                {p.over?.(p.pages[i]!, viewOf(frame, turn, p.zoom))}
                {(p.questions[i] ?? []).map((question) => (
                  <Placed
                    key={question.id}
                    question={question}
                    number={p.numbers.get(question.id) ?? ''}
                    value={p.answerAt(question.id)}
                    page={p.pages[i]!}
                    zoom={p.zoom}
                    readOnly={!p.onType}
                    onType={p.onType ?? nothing}
                    onFocus={p.onFocus ?? nothing}
                  />
                ))}
              </PageSheet>
            </div>
          )}
        </div>
      ))}
    </div>
  );
}

const longOn = (questions: readonly Question[] | undefined): readonly Question[] =>
  (questions ?? []).filter((q) => q.answer.kind === 'long');
const pinsOn = (pins: readonly Pin[] | undefined, document: DocumentId, page: number): readonly Pin[] =>
  (pins ?? []).filter((pin) => pin.place.document === document && pin.place.page === page);

/** Where the teacher's words point to: a small flag at the spot, with the words beside it. */
function Pins({ pins, view }: { pins: readonly Pin[]; view: PageView }): ReactNode {
  return pins.map((pin) => {
    const [x, y] = toScreen(view, [pin.place.x, pin.place.y]);
    return (
      <div
        key={pin.id}
        className="pointer-events-none absolute z-20 flex items-start"
        style={{ left: x - 6, top: y - 6 }}
      >
        <span
          className="size-3 shrink-0 rounded-full border-2 border-paper bg-action shadow"
          aria-hidden="true"
        />
        {(pin.words || pin.instead) && (
          <span className="ml-1 max-w-56 rounded-md bg-action px-2 py-1 text-sm leading-snug text-white shadow-lg">
            <span className="sr-only">Your teacher, at this place: </span>
            {pin.words && <WordsShow words={pin.words} />}
            {pin.instead && (
              <>
                <span className="block">
                  “{pin.instead.quoted}” →{' '}
                  {pin.instead.words === null ? 'leave it out' : `“${pin.instead.words}”`}
                </span>
                <button
                  type="button"
                  data-own-pointer
                  className="pointer-events-auto mt-1 rounded bg-raised px-2 py-0.5 text-action"
                  onClick={pin.instead.onAccept}
                >
                  Accept
                </button>
              </>
            )}
          </span>
        )}
      </div>
    );
  });
}

interface PlacedProps {
  readonly question: Question;
  readonly number: string;
  readonly value: string;
  readonly page: ShownPage;
  readonly zoom: number;
  readonly readOnly: boolean;
  onType(question: Question, value: string): void;
  onFocus(question: Question): void;
}

/** A field in its place; only the one that is typed in renders again. */
const Placed = memo(function Placed({ page, ...field }: PlacedProps) {
  const { question, zoom } = field;
  const place: Box = useMemo(
    () => boxToScreen(viewOf(page.frame, page.turn, zoom), question.box),
    [page, zoom, question],
  );
  return <AnswerField {...field} place={place} />;
});
