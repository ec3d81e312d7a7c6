import {
  type Box,
  boxToScreen,
  type DocumentId,
  type Mark,
  type PageFrame,
  type PageView,
  pageSize,
  type QuarterTurn,
  quarterTurn,
  viewSize,
} from '@jotmark/core';
import { memo, type ReactNode, use, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { CoveredContext } from './covered.ts';
import { openInEngine } from './documents.ts';
import { useLooks } from './looks.ts';
import { pictures, pixelSize } from './pictures.ts';
import { SettledLayer } from './settled-layer.ts';

export interface PageSheetProps {
  readonly document: DocumentId;
  readonly page: number;
  /** Its place in the whole stack of pages. */
  readonly index: number;
  readonly frame: PageFrame;
  /** The reader's turn, on top of the page's own. */
  readonly turn: QuarterTurn;
  readonly zoom: number;
  readonly marks: readonly Mark[];
  readonly label: string;
  readonly children?: ReactNode;
}

/** How a page is shown, from its frame, turn and zoom. */
export function viewOf(frame: PageFrame, turn: QuarterTurn, zoom: number): PageView {
  const [width, height] = pageSize(frame);
  return { width, height, turn: quarterTurn(frame.rotate + turn), zoom };
}

/** One page: its bitmap, then the settled marks, then whatever the view lays over it. Only pages near the screen are drawn. */
export const PageSheet = memo(function PageSheet({
  document: id,
  page,
  index,
  frame,
  turn,
  zoom,
  marks,
  label,
  children,
}: PageSheetProps) {
  const root = useRef<HTMLDivElement>(null);
  const view = useMemo(() => viewOf(frame, turn, zoom), [frame, turn, zoom]);
  const [width, height] = viewSize(view);
  const sharp = useSettledValue(zoom);
  const sharpView = useMemo(() => viewOf(frame, turn, sharp), [frame, turn, sharp]);
  const [sharpWidth, sharpHeight] = viewSize(sharpView);
  const near = useNear(root, index === 0);
  const covered = use(CoveredContext).get(`${id}/${page}`);
  return (
    <div
      ref={root}
      className="relative shrink-0 bg-paper"
      style={{ width, height }}
      role="group"
      aria-label={label}
      data-document={id}
      data-page={page}
      data-index={index}
    >
      {near !== 'away' && (
        <>
          <Bitmap
            id={id}
            page={page}
            turn={turn}
            width={sharpWidth}
            height={sharpHeight}
            inView={near === 'inside'}
          />
          <Settled marks={marks} view={sharpView} />
          <Covers boxes={covered} view={view} />
        </>
      )}
      {children}
    </div>
  );
});

/** What lies on the paper over words that are not to be seen. */
function Covers({ boxes, view }: { boxes: readonly Box[] | undefined; view: PageView }) {
  return boxes?.map((box) => {
    const [l, t, r, b] = boxToScreen(view, box);
    return (
      <span
        key={box.join()}
        aria-hidden="true"
        data-cover
        className="pointer-events-none absolute rounded-sm bg-line-strong"
        style={{ left: l - 2, top: t - 2, width: r - l + 4, height: b - t + 4 }}
      />
    );
  });
}

/** How long a zoom must rest before pages are drawn anew at its sharpness; until then the finished picture is stretched. */
const REST_MS = 80;

function useSettledValue<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const clock = setTimeout(() => setSettled(value), REST_MS);
    return () => clearTimeout(clock);
  }, [value]);
  return settled;
}

type Near = 'inside' | 'close' | 'away';

/** Whether an element is on the screen, within a page of it, or away. */
function useNear(ref: React.RefObject<HTMLElement | null>, first: boolean): Near {
  // The first page is what a document opens with: nobody need look whether it is in sight.
  const [near, setNear] = useState<Near>(first ? 'inside' : 'away');
  useEffect(() => {
    const watch = (rootMargin: string, seen: (is: boolean) => void) => {
      const observer = new IntersectionObserver((entries) => seen(entries.at(-1)!.isIntersecting), {
        root: ref.current!.closest('[data-scroller]'),
        rootMargin,
      });
      observer.observe(ref.current!);
      return observer;
    };
    let inside = false;
    let close = false;
    const tell = () => setNear(inside ? 'inside' : close ? 'close' : 'away');
    const a = watch('0px', (is) => {
      inside = is;
      tell();
    });
    const b = watch('1200px 400px', (is) => {
      close = is;
      tell();
    });
    return () => {
      a.disconnect();
      b.disconnect();
    };
  }, [ref]);
  return near;
}

function Bitmap({
  id,
  page,
  turn,
  width,
  height,
  inView,
}: {
  id: DocumentId;
  page: number;
  turn: QuarterTurn;
  width: number;
  height: number;
  inView: boolean;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [trouble, setTrouble] = useState(false);
  useLayoutEffect(() => {
    let gone = false;
    const size = pixelSize(width, height, devicePixelRatio);
    const order = { key: id, page, turn, ...size };
    const show = (bitmap: ImageBitmap) => {
      const c = canvas.current;
      if (gone || !c) return;
      c.width = bitmap.width;
      c.height = bitmap.height;
      c.getContext('2d', { alpha: false })!.drawImage(bitmap, 0, 0);
      c.dataset.drawn = `${bitmap.width}x${bitmap.height}`;
      performance.mark('jotmark-page-drawn', { detail: `${id}/${page}` });
    };
    const ready = pictures.ready(order);
    if (ready) show(ready);
    else
      openInEngine(id)
        .then(() => (gone ? null : pictures.get(order, inView ? 8 : 3)))
        .then((bitmap) => bitmap && show(bitmap))
        .catch(() => !gone && setTrouble(true));
    return () => {
      gone = true;
    };
  }, [id, page, turn, width, height, inView]);
  return (
    <>
      <canvas ref={canvas} className="absolute inset-0 size-full" />
      {trouble && (
        <p className="absolute inset-x-8 top-8 text-caution">
          This page cannot be drawn. The file is kept; you can still write on the empty page and give a grade.
        </p>
      )}
    </>
  );
}

function Settled({ marks, view }: { marks: readonly Mark[]; view: PageView }) {
  const ink = useRef<HTMLCanvasElement>(null);
  const wash = useRef<HTMLCanvasElement>(null);
  const layer = useRef<SettledLayer | null>(null);
  const looks = useLooks();
  useLayoutEffect(() => {
    layer.current ??= new SettledLayer(ink.current!, wash.current!);
    layer.current.show(
      marks,
      view,
      Math.min(devicePixelRatio, Math.sqrt(16_000_000 / (view.width * view.height)) / view.zoom),
      looks,
    );
  }, [marks, view, looks]);
  useEffect(() => () => layer.current?.stop(), []);
  return (
    <>
      <canvas ref={wash} className="pointer-events-none absolute inset-0 size-full mix-blend-multiply" />
      <canvas ref={ink} className="pointer-events-none absolute inset-0 size-full" />
    </>
  );
}
