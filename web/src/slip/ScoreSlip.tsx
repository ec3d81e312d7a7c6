import type { Mark, Sheet } from '@jotmark/core';
import { memo, type ReactNode, type Ref, useMemo, useRef, useState } from 'react';
import { Divider } from '../frame/Divider.tsx';
import { Fold, isOpenFold } from '../frame/Fold.tsx';
import { LEAST_SIZES, MOST_SIZES } from '../layout/useDeskLayout.ts';
import { MarkList } from '../marks/MarkList.tsx';
import { plural } from '../time/words.ts';
import { WordsField } from '../words/WordsField.tsx';
import { WordsShow } from '../words/WordsShow.tsx';

interface Props {
  readonly about: string;
  readonly slip: Sheet['slip'];
  /** Null: there are no pages that could have marks. */
  readonly marks: readonly Mark[] | null;
  readonly selected: readonly Mark[];
  /** To be written on, handed back, or shown as it stood earlier: the last two are only read. */
  readonly state: 'open' | 'handed-back' | 'past';
  /** It is the last of its pile. */
  readonly last: boolean;
  /** How wide it is, in CSS pixels, and what pulls it; null: it has the desk to itself. */
  readonly size: { readonly width: number; onWidth(to: number): void } | null;
  /** Questions, rubric and grade; and what is said about the whole copy. */
  readonly parts: { readonly scores: ReactNode; readonly voice: ReactNode };
  readonly closingRef: Ref<HTMLTextAreaElement>;
  readonly does: SlipMoves;
  /** Of a round that is not the last: how its words are called, and what stands at its foot. */
  readonly round?: { readonly wordsName: string; readonly end: ReactNode };
  /** What else belongs beside the copy. */
  readonly children?: ReactNode;
}

/** What is done on the slip; the same for as long as it is shown. */
export interface SlipMoves {
  onClosing(value: string): void;
  onDone(done: boolean, goOn: boolean): void;
  onNext(): void;
  onPick(mark: Mark): void;
  /** Marks on after it was handed back. */
  onChangeAgain(): void;
}

/** The slip clipped to the copy: grade, closing words, whether it is marked, and all marks as a list. */
export const ScoreSlip = memo(function ScoreSlip(p: Props) {
  const [listed, setListed] = useState(() => isOpenFold('marks'));
  const readOnly = p.state !== 'open';
  const notes = p.marks?.filter((m) => m.kind === 'note').length ?? 0;
  return (
    <aside
      className={`relative ${p.size === null ? 'mx-auto w-full max-w-xl' : 'shrink-0'}`}
      style={p.size === null ? undefined : { width: p.size.width }}
      aria-label="Score slip"
    >
      {p.size && (
        <Divider
          label="Width of the score slip"
          edge="left"
          value={p.size.width}
          least={LEAST_SIZES.slip}
          most={MOST_SIZES.slip}
          onValue={p.size.onWidth}
        />
      )}
      <div data-scrolls className="flex h-full flex-col overflow-y-auto">
        <div className="torn mx-4 my-3 flex flex-1 flex-col bg-raised px-5 pt-7 pb-5">
          <div className="flex items-baseline">
            <h2 className="text-[17px] font-bold">Score slip</h2>
            <span className="ml-auto text-xs text-soft">{p.about}</span>
          </div>
          {p.parts.scores}
          <div className="mt-5">
            <p className="text-sm text-soft">
              {p.round?.wordsName ?? 'Closing words'}{' '}
              {p.state !== 'handed-back' && <span className="key">c</span>}
            </p>
            <ClosingField
              label={p.round?.wordsName ?? 'Closing words'}
              value={p.slip.closing.value}
              readOnly={readOnly}
              areaRef={p.closingRef}
              onClosing={p.does.onClosing}
            />
            {p.parts.voice}
          </div>
          {p.marks && (
            <Fold
              name="marks"
              head={`${plural(p.marks.length, 'mark', 'marks')}, ${plural(notes, 'note', 'notes')}`}
              className="mt-5 border-t border-line pt-3"
              headClass="text-sm text-soft"
              onOpen={setListed}
            >
              {/* Thousands of lines that nobody looks at would be made anew with every stroke. */}
              {listed && <MarkList marks={p.marks} selected={p.selected} onPick={p.does.onPick} />}
            </Fold>
          )}
          {p.children}
          {p.round ? (
            <div className="mt-auto space-y-2 pt-6">{p.round.end}</div>
          ) : (
            p.state !== 'past' && (
              <SlipEnd state={p.state} done={p.slip.done.value} last={p.last} does={p.does} />
            )
          )}
        </div>
      </div>
    </aside>
  );
});

/** What comes next with this copy. */
function SlipEnd({ state, done, last, does }: Pick<Props, 'state' | 'last' | 'does'> & { done: boolean }) {
  return (
    <div className="mt-auto space-y-2 pt-6">
      {state === 'handed-back' ? (
        <>
          <p className="text-soft">This copy was handed back. What the student got stays as it was.</p>
          <button type="button" className="quiet w-full" onClick={does.onChangeAgain}>
            Change and hand back again
          </button>
        </>
      ) : done ? (
        <>
          <p className="text-sm text-soft">Marked, and held until you hand back.</p>
          <button type="button" className="act w-full" onClick={does.onNext} disabled={last}>
            {last ? 'This was the last one' : 'Next copy'}
          </button>
          <button type="button" className="quiet w-full" onClick={() => does.onDone(false, false)}>
            Reopen marking
          </button>
        </>
      ) : (
        <>
          <button type="button" className="act w-full" onClick={() => does.onDone(true, true)}>
            {last ? 'Marked' : 'Marked, next copy'}{' '}
            <span className="ml-1 font-normal opacity-80">Ctrl ↵</span>
          </button>
          {!last && (
            <button type="button" className="quiet w-full" onClick={does.onNext}>
              Skip <span className="key">n</span>
            </button>
          )}
        </>
      )}
    </div>
  );
}

const ClosingField = memo(function ClosingField({
  label,
  value,
  readOnly,
  areaRef,
  onClosing,
}: {
  label: string;
  value: string;
  readOnly: boolean;
  areaRef: Ref<HTMLTextAreaElement>;
  onClosing(value: string): void;
}) {
  const own = useRef<HTMLTextAreaElement | null>(null);
  // Given on to whoever puts the cursor there by a key.
  const given = useMemo(
    () => ({
      get current() {
        return own.current;
      },
      set current(el: HTMLTextAreaElement | null) {
        own.current = el;
        if (typeof areaRef === 'function') areaRef(el);
        else if (areaRef) areaRef.current = el;
      },
    }),
    [areaRef],
  );
  if (readOnly)
    return (
      <div className="mt-1 min-h-10 font-hand text-[19px] leading-7 break-words text-garnet">
        <WordsShow words={value} />
      </div>
    );
  return (
    <WordsField
      field={given}
      label={label}
      className="mt-1 block min-h-28 w-full resize-y rounded-lg border border-transparent bg-transparent font-hand text-[19px] leading-7 text-garnet hover:border-line focus:border-line-strong"
      placeholder="To the student …"
      most={6000}
      value={value}
      onValue={onClosing}
      onKeyDown={(e) => {
        if (e.key === 'Escape') e.currentTarget.blur();
      }}
    />
  );
});
