import { type RefObject, useEffect, useRef } from 'react';
import { LiveLayer } from './live.ts';
import { Pad, type PadHost } from './pad.ts';

/** Puts a pad on the scroller and a live layer over it. The host may change with every render; the pad asks the newest. */
export function usePad(
  scroller: RefObject<HTMLElement | null>,
  canvas: RefObject<HTMLCanvasElement | null>,
  host: PadHost,
  ready: boolean,
): RefObject<Pad | null> {
  const newest = useRef(host);
  newest.current = host;
  const pad = useRef<Pad | null>(null);
  useEffect(() => {
    const element = scroller.current;
    if (!ready || !element || !canvas.current) return;
    const live = new LiveLayer(canvas.current);
    const size = () => live.resize(element.clientWidth, element.clientHeight, devicePixelRatio);
    size();
    const observer = new ResizeObserver(size);
    observer.observe(element);
    const forward = new Proxy({} as PadHost, { get: (_, key) => newest.current[key as keyof PadHost] });
    pad.current = new Pad(element, live, forward);
    return () => {
      observer.disconnect();
      pad.current?.close();
      pad.current = null;
    };
  }, [ready, scroller, canvas]);
  return pad;
}
