import type { AssignmentSheet } from '@jotmark/core';
import { useEffect, useRef, useState } from 'react';

/** The worksheet whose pages are still being made, if there is one. */
const beingMade = (sheet: AssignmentSheet): string | null =>
  sheet.materials.find(
    (m) => m.kind === 'worksheet' && ['queued', 'running'].includes(m.document?.reading.state ?? 'done'),
  )?.name ?? null;

/** A wish that needs all pages of the worksheets: while they are being made it waits, and comes true by itself unless it is dropped before. */
export function useWhenRead(sheet: AssignmentSheet, act: () => void) {
  const [wished, setWished] = useState(false);
  const name = beingMade(sheet);
  const now = useRef(act);
  now.current = act;
  useEffect(() => {
    if (!wished || name !== null) return;
    setWished(false);
    now.current();
  }, [wished, name]);
  return {
    wish: () => setWished(true),
    drop: () => setWished(false),
    /** What it waits for. */
    waitsFor: wished ? name : null,
  };
}
