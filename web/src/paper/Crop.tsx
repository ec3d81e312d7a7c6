import { type Box, boxToScreen, type DocumentId, type PageFrame, viewSize } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { openInEngine, pagesQuery } from './documents.ts';
import { viewOf } from './PageSheet.tsx';
import { pictures, pixelSize } from './pictures.ts';

interface Props {
  readonly document: DocumentId;
  readonly page: number;
  /** In page space. */
  readonly box: Box;
  readonly label: string;
  /** How wide it may be, in CSS pixels. */
  readonly width: number;
}

/** So much of the page round a place is shown with it, in points. */
const ROUND = 4;
/** Of so many documents at once crops are made: the engine keeps few open. */
const AT_ONCE = 2;

const waiting: (() => Promise<void>)[] = [];
let working = 0;

/** Does it when its turn comes. */
function inTurn(work: () => Promise<void>): void {
  waiting.push(work);
  while (working < AT_ONCE && waiting.length) {
    const next = waiting.shift()!;
    working++;
    next().finally(() => {
      working--;
      const more = waiting.shift();
      if (more) inTurn(more);
    });
  }
}

/** A part of a page as it was handed in. It is made when it comes near the screen, one after the other. */
export function Crop(p: Props) {
  const holder = useRef<HTMLDivElement>(null);
  const near = useNearScreen(holder);
  const pages = useQuery({ ...pagesQuery(p.document), enabled: near });
  const frame = pages.data?.frames[p.page];
  // Before the page is known it takes the room that it takes on an upright one.
  const [l, t, r, b] = frame ? boxToScreen(viewOf(frame, 0, 1), p.box) : p.box;
  const ratio = (r - l + 2 * ROUND) / Math.max(1, b - t + 2 * ROUND);
  const wide = Math.min(p.width, (r - l + 2 * ROUND) * 1.3);
  return (
    <div
      ref={holder}
      role="img"
      aria-label={p.label}
      className="max-w-full overflow-hidden rounded-sm border border-line bg-paper"
      style={{ width: wide, height: wide / ratio }}
    >
      {frame && <Part document={p.document} page={p.page} box={[l, t, r, b]} frame={frame} wide={wide} />}
      {pages.data && !frame && <p className="p-2 text-sm text-soft">This page cannot be shown.</p>}
    </div>
  );
}

function Part({
  document: id,
  page,
  box,
  frame,
  wide,
}: {
  readonly document: DocumentId;
  readonly page: number;
  /** On the page as it is shown. */
  readonly box: Box;
  readonly frame: PageFrame;
  readonly wide: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [trouble, setTrouble] = useState(false);
  const [l, t, r, b] = box;
  useEffect(() => {
    let gone = false;
    const [width, height] = viewSize(viewOf(frame, 0, 1));
    const zoom = wide / (r - l + 2 * ROUND);
    const size = pixelSize(width * zoom, height * zoom, devicePixelRatio);
    inTurn(async () => {
      if (gone) return;
      try {
        await openInEngine(id);
        const picture = await pictures.get({ key: id, page, turn: 0, ...size }, 4);
        const c = canvas.current;
        if (gone || !c) return;
        const scale = picture.width / width;
        const [w, h] = [(r - l + 2 * ROUND) * scale, (b - t + 2 * ROUND) * scale];
        c.width = Math.round(w);
        c.height = Math.round(h);
        const pen = c.getContext('2d', { alpha: false })!;
        pen.fillStyle = '#fffefb';
        pen.fillRect(0, 0, w, h);
        pen.drawImage(picture, (l - ROUND) * scale, (t - ROUND) * scale, w, h, 0, 0, c.width, c.height);
        c.dataset.drawn = `${c.width}x${c.height}`;
      } catch {
        if (!gone) setTrouble(true);
      }
    });
    return () => {
      gone = true;
    };
  }, [id, page, l, t, r, b, frame, wide]);
  return trouble ? (
    <p className="p-2 text-sm text-soft">This page cannot be drawn.</p>
  ) : (
    <canvas ref={canvas} className="block size-full" />
  );
}

function useNearScreen(ref: React.RefObject<HTMLElement | null>): boolean {
  const [near, setNear] = useState(false);
  useEffect(() => {
    if (near || !ref.current) return;
    const watch = new IntersectionObserver(
      (entries) => entries.some((e) => e.isIntersecting) && setNear(true),
      { rootMargin: '300px' },
    );
    watch.observe(ref.current);
    return () => watch.disconnect();
  }, [near, ref]);
  return near;
}
