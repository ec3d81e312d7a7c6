import * as z from 'zod';
import { MAX_POINTS } from '../points/points.ts';
import { StampLook } from '../stamps/look.ts';
import { FocusName, InkColour } from './ink-colour.ts';

/** A pen's name stands under what it makes, so it is short. */
const name = z.string().trim().min(1).max(18);
const inked = { name, colour: InkColour, focus: FocusName.nullable() };
const wide = (least: number, most: number) => z.number().min(least).max(most);

/** A pen is a tool with all it needs to know: taking it is one move, and there is nothing else to set. */
export const Pen = z.discriminatedUnion('tool', [
  z.object({ tool: z.literal('ink'), ...inked, width: wide(0.4, 12) }),
  z.object({ tool: z.literal('highlight'), ...inked, width: wide(4, 40) }),
  z.object({ tool: z.literal('note'), ...inked }),
  z.object({ tool: z.literal('line'), ...inked, width: wide(0.4, 12) }),
  z.object({ tool: z.literal('arrow'), ...inked, width: wide(0.4, 12) }),
  z.object({ tool: z.literal('box'), ...inked, width: wide(0.4, 12) }),
  z.object({ tool: z.literal('ring'), ...inked, width: wide(0.4, 12) }),
  /** Page text; `width` is the size of its letters in points. */
  z.object({ tool: z.literal('text'), ...inked, width: wide(6, 48) }),
  z.object({
    tool: z.literal('stamp'),
    ...inked,
    /** The side of its square, in points. */
    width: wide(8, 120),
    look: StampLook,
    points: z.int().min(-MAX_POINTS).max(MAX_POINTS).nullable(),
  }),
  z.object({ tool: z.literal('cut'), ...inked }),
  z.object({ tool: z.literal('add'), ...inked }),
  z.object({ tool: z.literal('swap'), ...inked }),
  /** Takes whole marks, or of ink only the part it goes over. */
  z.object({ tool: z.literal('eraser'), name, part: z.boolean() }),
  z.object({ tool: z.literal('hand'), name }),
  /** Drawn round marks, it picks them. */
  z.object({ tool: z.literal('lasso'), name }),
]);
export type Pen = z.infer<typeof Pen>;
export type Tool = Pen['tool'];

/** The same pen for work that is not graded: its stamp earns nothing. */
export const penWithoutPoints = (pen: Pen): Pen => (pen.tool === 'stamp' ? { ...pen, points: null } : pen);
/** A pen that leaves a mark. */
export type MarkingPen = Exclude<Pen, { tool: 'eraser' | 'hand' | 'lasso' }>;
export const isMarkingPen = (pen: Pen): pen is MarkingPen => 'colour' in pen;

/** What a student writes with. Typing is the hand: fields are typed into, nothing is drawn. */
export const STUDENT_TRAY: readonly Pen[] = [
  { tool: 'hand', name: 'type' },
  { tool: 'ink', name: 'pencil', colour: 'graphite', width: 1.8, focus: null },
  { tool: 'highlight', name: 'highlighter', colour: 'straw', width: 11, focus: null },
  { tool: 'note', name: 'note', colour: 'graphite', focus: null },
  { tool: 'eraser', name: 'eraser', part: false },
];
