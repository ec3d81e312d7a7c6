import type { Box } from '../geometry/box.ts';
import type { QuestionId } from '../ids/id.ts';
import { type Question, SMALLEST_REGION } from './question.ts';

/** Which edge or corner is being pulled: compass letters as on a map. */
export type Grip = 'n' | 'e' | 's' | 'w' | 'ne' | 'nw' | 'se' | 'sw';

export interface PageSize {
  readonly width: number;
  readonly height: number;
}

const hundredth = (n: number) => Math.round(n * 100) / 100;

/** The box moved by (dx, dy) points, kept on its page whole. */
export function shiftBox(box: Box, dx: number, dy: number, page: PageSize): Box {
  const x = Math.min(Math.max(dx, -box[0]), page.width - box[2]);
  const y = Math.min(Math.max(dy, -box[1]), page.height - box[3]);
  return [hundredth(box[0] + x), hundredth(box[1] + y), hundredth(box[2] + x), hundredth(box[3] + y)];
}

/** The box with one edge or corner pulled by (dx, dy): never smaller than a region may be, never off the page. */
export function pullBox(box: Box, grip: Grip, dx: number, dy: number, page: PageSize): Box {
  let [l, t, r, b] = box;
  if (grip.includes('w')) l = Math.max(0, Math.min(l + dx, r - SMALLEST_REGION));
  if (grip.includes('e')) r = Math.min(page.width, Math.max(r + dx, l + SMALLEST_REGION));
  if (grip.includes('n')) t = Math.max(0, Math.min(t + dy, b - SMALLEST_REGION));
  if (grip.includes('s')) b = Math.min(page.height, Math.max(b + dy, t + SMALLEST_REGION));
  return [hundredth(l), hundredth(t), hundredth(r), hundredth(b)];
}

/** A region drawn from one corner to another, cut to its page; null when it is too small to be meant. */
export function drawnBox(
  from: readonly [number, number],
  to: readonly [number, number],
  page: PageSize,
): Box | null {
  const clampX = (x: number) => hundredth(Math.min(page.width, Math.max(0, x)));
  const clampY = (y: number) => hundredth(Math.min(page.height, Math.max(0, y)));
  const box: Box = [
    clampX(Math.min(from[0], to[0])),
    clampY(Math.min(from[1], to[1])),
    clampX(Math.max(from[0], to[0])),
    clampY(Math.max(from[1], to[1])),
  ];
  return box[2] - box[0] < SMALLEST_REGION || box[3] - box[1] < SMALLEST_REGION ? null : box;
}

export type Edge = 'left' | 'right' | 'top' | 'bottom' | 'width' | 'height';

/**
 * Lines the chosen questions up with the first of them: its left, right, top or bottom edge, or its width or height.
 * What would leave its page stops at the edge.
 */
export function alignQuestions(
  questions: readonly Question[],
  chosen: readonly QuestionId[],
  edge: Edge,
  sizeOf: (page: number) => PageSize,
): Question[] {
  const first = questions.find((q) => q.id === chosen[0]);
  if (!first) return [...questions];
  return questions.map((q) => {
    if (q === first || !chosen.includes(q.id)) return q;
    const page = sizeOf(q.page);
    const [l, t, r, b] = q.box;
    const f = first.box;
    const moved: Record<Edge, () => Box> = {
      left: () => shiftBox(q.box, f[0] - l, 0, page),
      right: () => shiftBox(q.box, f[2] - r, 0, page),
      top: () => shiftBox(q.box, 0, f[1] - t, page),
      bottom: () => shiftBox(q.box, 0, f[3] - b, page),
      width: () => pullBox(q.box, 'e', f[2] - f[0] - (r - l), 0, page),
      height: () => pullBox(q.box, 's', 0, f[3] - f[1] - (b - t), page),
    };
    return { ...q, box: moved[edge]() };
  });
}

/** Copies of the chosen questions a little below them, each with a new id and numbering itself. */
export function duplicateQuestions(
  questions: readonly Question[],
  chosen: readonly QuestionId[],
  newId: () => QuestionId,
  sizeOf: (page: number) => PageSize,
): { questions: Question[]; made: QuestionId[] } {
  const made: Question[] = questions
    .filter((q) => chosen.includes(q.id))
    .map((q) => ({
      ...q,
      id: newId(),
      label: null,
      box: shiftBox(q.box, 0, q.box[3] - q.box[1] + 6, sizeOf(q.page)),
    }));
  return { questions: [...questions, ...made], made: made.map((q) => q.id) };
}
