import {
  type DocumentState,
  type HandBackShape,
  isMarginMark,
  leadPoint,
  toScreen,
  withEchoes,
} from '@jotmark/core';
import { ZoomIn, ZoomOut } from 'lucide-react';
import { useEffect, useMemo } from 'react';
import type { useSaidHere } from '../conversation/SaidHere.tsx';
import { IconButton } from '../frame/IconButton.tsx';
import { onDemand } from '../frame/on-demand.tsx';
import { Waiting } from '../frame/states.tsx';
import { useZoom } from '../hand/useZoom.ts';
import { ZOOM_STEP } from '../hand/zoom.ts';
import { MarkedPageStack } from '../margin/MarkedPageStack.tsx';
import { MARGIN_FOLDED, MARGIN_WIDTH, type MarginLook } from '../margin/margin-look.ts';
import { Enclosures } from '../paper/Enclosures.tsx';
import { marksByPage } from '../paper/marks-by-page.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import { type ShownPage, usePageList, usePageTexts } from '../paper/page-list.ts';

/** Only where there is a film. */
const ReturnedFilm = onDemand(() => import('./ReturnedFilm.tsx').then((m) => m.ReturnedFilm));

interface Props {
  readonly handBack: HandBackShape;
  readonly scroller: React.RefObject<HTMLDivElement | null>;
  readonly active: string | null;
  readonly look: MarginLook;
  readonly over: ReturnType<typeof useSaidHere>;
  /** What this is called, and how it is laid out. */
  readonly className: string;
  /** So many times nearer than the whole width at first. */
  readonly nearer?: number;
  onActive(id: string | null): void;
}

const MARGIN = { wide: MARGIN_WIDTH, narrow: MARGIN_FOLDED, none: 0 } as const;

/** The pages as they came back, with their marks; and whatever else was handed in. The size of the paper is in sight. */
export function MarkedPages(p: Props) {
  const { handBack, scroller, active, look, over, className, nearer, onActive } = p;
  const { snapshot } = handBack;
  const { pages, settled } = usePageList(handBack.documents, snapshot.turns);
  const byPage = useMemo(() => marksByPage(withEchoes(snapshot.marks), pages, []), [snapshot, pages]);
  const texts = usePageTexts(pages);
  const ready = settled && pages.length > 0;
  const { zoom, measured, step, setWish } = useZoom(scroller, pages, ready, MARGIN[look.show]);
  const film = (document: DocumentState) => (
    <ReturnedFilm
      document={document}
      marks={snapshot.marks}
      active={active}
      below={look.below ?? null}
      onActive={onActive}
    />
  );
  const shown = ready && measured;
  useEffect(() => {
    if (shown && nearer) setWish(zoom * nearer);
    // Once, when the width is known.
  }, [shown, nearer, setWish]);
  // Whoever came by the news, or by the list, sees the place.
  useEffect(() => {
    if (!shown || active === null) return;
    const note = snapshot.marks.find((m) => m.id === active);
    const page = note && pages.find((p) => p.document === note.document && p.page === note.page);
    if (!page || !isMarginMark(note)) return;
    bringNear(scroller.current, page, toScreen(viewOf(page.frame, page.turn, zoom), leadPoint(note)));
  }, [shown, active, zoom, pages, snapshot, scroller]);
  if (settled && pages.length === 0)
    return (
      <div className="min-w-0 flex-1 p-5">
        <Enclosures documents={handBack.documents} film={film} />
      </div>
    );
  if (!ready) return <Waiting what="your pages" />;
  const picked = withEchoes(snapshot.marks).filter((m) => m.id === active);
  return (
    <div className="relative flex min-h-0 min-w-0 flex-1 flex-col">
      <div
        ref={scroller}
        data-scroller
        tabIndex={0}
        role="region"
        aria-label="Your pages"
        className={`min-w-0 flex-1 overflow-auto ${className}`}
      >
        <Enclosures documents={handBack.documents} film={film} />
        {measured && (
          <MarkedPageStack
            pages={pages}
            zoom={zoom}
            byPage={byPage}
            picked={picked}
            active={active}
            texts={texts}
            look={look}
            over={over}
            onActivate={(note) => onActive(note?.id ?? null)}
          />
        )}
      </div>
      <div className="absolute bottom-3 left-3 z-20 flex rounded-lg bg-raised shadow" data-own-pointer>
        <IconButton label="Zoom out" icon={ZoomOut} onClick={() => step(1 / ZOOM_STEP)} />
        <span className="min-w-12 self-center text-center text-sm text-soft tabular">
          {Math.round(zoom * 75)} %
        </span>
        <IconButton label="Zoom in" icon={ZoomIn} onClick={() => step(ZOOM_STEP)} />
      </div>
    </div>
  );
}

/** Scrolls so that a place of a page stands in the upper half, where it is not in sight. */
function bringNear(scroller: HTMLElement | null, page: ShownPage, [x, y]: readonly [number, number]): void {
  const sheet = scroller?.querySelector<HTMLElement>(
    `[data-document="${page.document}"][data-page="${page.page}"]`,
  );
  if (!scroller || !sheet) return;
  const [box, at] = [scroller.getBoundingClientRect(), sheet.getBoundingClientRect()];
  const [left, top] = [at.left + x - box.left, at.top + y - box.top];
  scroller.scrollBy({
    top: top < 20 || top > box.height * 0.7 ? top - box.height * 0.4 : 0,
    left: left < 10 || left > box.width * 0.9 ? left - box.width * 0.4 : 0,
  });
}
