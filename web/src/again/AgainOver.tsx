import {
  bandsOver,
  type Carried,
  leadPoint,
  type PageText,
  type PageView,
  toScreen,
  type WordAt,
} from '@jotmark/core';
import { tip } from '../frame/tip.ts';
import { PageSheet, viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';
import type { InAgain } from './useInAgain.ts';

interface Props {
  readonly again: InAgain;
  readonly page: ShownPage;
  readonly view: PageView;
  readonly text: PageText | null;
}

/** Over a page of a copy that came in again: where the notes of before stand now, which words came and went, and the page as it was. */
export function AgainOver({ again, page, view, text }: Props) {
  const here = again.carried
    .map((c, i) => ({ c, n: i + 1 }))
    .filter(({ c }) => c.now?.document === page.document && c.now.page === page.page);
  return (
    <>
      {again.overlay > 0 && <OldPage again={again} page={page} view={view} />}
      {again.showsChanges && text && <Changes again={again} page={page} view={view} text={text} />}
      {here.map(({ c, n }) => (
        <Sign key={c.mark.id} carried={c} n={n} again={again} view={view} />
      ))}
    </>
  );
}

/** A small number beside the place of an earlier note; pressed, the note is looked at. */
function Sign({ carried, n, again, view }: { carried: Carried; n: number; again: InAgain; view: PageView }) {
  const { mark, now } = carried;
  const verdict = again.verdictOf(mark.id);
  if (!now || verdict === 'again' || verdict === 'let-go') return null;
  const [x, y] = toScreen(view, leadPoint(now));
  const active = again.active === mark.id;
  return (
    <button
      type="button"
      data-own-pointer
      aria-label={`Earlier note ${n}`}
      {...tip(`Earlier note ${n}`)}
      className={`absolute z-10 grid h-5 min-w-5 -translate-y-1/2 place-items-center rounded-full border px-1 text-[11px] font-bold ${active ? 'border-action bg-action text-white' : verdict ? 'border-line bg-raised text-soft opacity-70' : 'border-action bg-raised text-action'}`}
      style={{ left: Math.min(x + 3, view.width - 24), top: y }}
      onClick={() => again.setActive(active ? null : mark.id)}
    >
      {n}
    </button>
  );
}

/** Runs of words that follow one another. */
function runsOf(words: readonly WordAt[]): { from: number; to: number }[] {
  const out: { from: number; to: number }[] = [];
  for (const { word } of words) {
    const last = out.at(-1);
    if (last && last.to === word - 1) last.to = word;
    else out.push({ from: word, to: word });
  }
  return out;
}

/** Words that came stand on a band; where words went stands how many. */
function Changes({ again, page, view, text }: Props & { text: PageText }) {
  const boxes = (from: number, to: number) =>
    bandsOver(text, { from, to }).map((b) => {
      const [x1, y1] = toScreen(view, [b[0], b[1]]);
      const [x2, y2] = toScreen(view, [b[2], b[3]]);
      return {
        left: Math.min(x1, x2),
        top: Math.min(y1, y2),
        width: Math.abs(x2 - x1),
        height: Math.abs(y2 - y1),
      };
    });
  return (
    <div className="pointer-events-none absolute inset-0" aria-hidden="true">
      {again.compared?.changes.map((c, i) => {
        const came = c.cameAt.filter((w) => w.page === page.index);
        const went =
          c.came === '' && c.behind?.page === page.index ? boxes(c.behind.word, c.behind.word)[0] : null;
        return (
          <div key={i}>
            {runsOf(came).flatMap(({ from, to }) =>
              boxes(from, to).map((box) => (
                <span
                  key={`${box.left} ${box.top}`}
                  className="absolute border-b-2 border-action bg-action/15"
                  style={box}
                />
              )),
            )}
            {went && (
              <span
                className="absolute rounded bg-soft px-0.5 text-[10px] leading-3 font-bold text-white"
                style={{ left: went.left + went.width, top: went.top - 4 }}
              >
                −{c.wentAt.length}
              </span>
            )}
          </div>
        );
      })}
    </div>
  );
}

/** The page as it was, over the page as it is: drawings and pictures are compared by eye. */
function OldPage({ again, page, view }: Pick<Props, 'again' | 'page' | 'view'>) {
  const old = again.oldPages.find((_, i) => again.pagesNow[i] === page.index);
  if (!old) return null;
  const like = viewOf(old.frame, old.turn, 1);
  return (
    <div
      data-as-it-was
      className="pointer-events-none absolute inset-0 overflow-hidden mix-blend-multiply"
      style={{ opacity: again.overlay / 100 }}
      aria-hidden="true"
    >
      <PageSheet
        document={old.document}
        page={old.page}
        index={-1 - old.index}
        frame={old.frame}
        turn={old.turn}
        zoom={view.width / like.width}
        marks={NO_MARKS}
        label="As it was"
      />
    </div>
  );
}

const NO_MARKS: readonly never[] = [];
