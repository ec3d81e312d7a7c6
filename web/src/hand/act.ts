import type {
  DocumentId,
  Drawn,
  Exact,
  Mark,
  MarkId,
  PageText,
  PageView,
  Pen,
  Point,
  pageMapper,
  samplesInto,
  WordRange,
} from '@jotmark/core';
import type { PageSpot } from './live.ts';

export interface PadPage {
  readonly document: DocumentId;
  readonly page: number;
  readonly view: PageView;
  readonly text: PageText | null;
}

/** One use of the pen from down to up. */
export interface Act extends Drawn {
  readonly pointer: number;
  readonly page: PadPage;
  readonly spot: PageSpot;
  readonly rect: DOMRect;
  readonly toPage: ReturnType<typeof pageMapper>;
  /** Takes a sample into the points. */
  sample: ReturnType<typeof samplesInto>;
  readonly pen: Pen;
  /** All that one sweep does is undone at once. */
  readonly id: string;
  /** When the pen came down, by the page's clock. */
  readonly began: number;
  /** Of the mark it will leave, once it is known. */
  markId: MarkId | null;
  readonly startClient: Point;
  points: number[];
  at: Point;
  range: WordRange | null;
  travelled: number;
  straight: boolean;
  exact: Exact | null;
  /** The drag began on words. */
  readonly onText: boolean;
  /** The marks that were picked up, and where they are now. */
  dragged: readonly Mark[];
  draggedTo: readonly Mark[];
  /** Strokes that this sweep of the eraser cut, and what is left of them. */
  readonly gone: Set<MarkId>;
  readonly pieces: Map<MarkId, Mark>;
}
