import * as z from 'zod';
import { TrayId } from '../ids/id.ts';
import { lookApart } from '../marks/read-mark.ts';
import { digestOf, type KeepBytes } from '../versions/digest.ts';
import { type Reading, readVersioned, type Step } from '../versions/reading.ts';
import { Pen } from './pen.ts';

/** As many pens as have a key of their own. */
export const MOST_PENS = 10;
/** The keys that take pens, in the order of the row. */
export const PEN_KEYS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0'] as const;

export const Tray = z.object({
  id: TrayId,
  name: z.string().trim().min(1).max(30),
  pens: z.array(Pen).min(1).max(MOST_PENS),
});
export type Tray = z.infer<typeof Tray>;

/** All trays of one teacher, which one lies out, and on which side of the desk. */
export const Trays = z.object({
  v: z.literal(2),
  trays: z.array(Tray).min(1).max(8),
  out: z.int().min(0).max(7),
  side: z.enum(['left', 'middle', 'right']),
});
export type Trays = z.infer<typeof Trays>;

type Raw = Readonly<Record<string, unknown>>;

/** Version 1 had the bytes of own stamps' pictures in the pens. */
const bytesApart =
  (keep: KeepBytes): Step =>
  (trays) => ({
    ...trays,
    v: 2,
    trays: (trays.trays as Raw[]).map((tray) => ({
      ...tray,
      pens: (tray.pens as Raw[]).map((pen) =>
        pen.tool === 'stamp' ? { ...pen, look: lookApart(pen.look as Raw, keep) } : pen,
      ),
    })),
  });

/** Reads trays of any version there ever was; `keep` hears of bytes that lay in older ones. */
export function readTrays(raw: unknown, keep: KeepBytes = digestOf): Reading<Trays> {
  return readVersioned(raw, [bytesApart(keep)], Trays);
}

/** What lies beside every tray, each with a key of its own. */
export const HAND_TOOLS: readonly { readonly key: string; readonly pen: Pen }[] = [
  { key: 'h', pen: { tool: 'hand', name: 'select' } },
  { key: 'l', pen: { tool: 'lasso', name: 'lasso' } },
  { key: 'e', pen: { tool: 'eraser', name: 'eraser', part: false } },
  { key: 'd', pen: { tool: 'eraser', name: 'part eraser', part: true } },
];

/** The tray that lies out. */
export const trayOut = (trays: Trays): Tray => trays.trays[trays.out] ?? trays.trays[0]!;

/** The trays a teacher starts with: one for writing, one for numbers. */
export function starterTrays(newId: () => TrayId): Trays {
  const tick = { of: 'sign' as const, sign: 'tick' as const };
  const sign = (name: 'cross' | 'half' | 'dot' | 'star' | 'question') => ({
    of: 'sign' as const,
    sign: name,
  });
  return {
    v: 2,
    out: 0,
    side: 'middle',
    trays: [
      {
        id: newId(),
        name: 'writing',
        pens: [
          { tool: 'ink', name: 'red pen', colour: 'garnet', width: 1.6, focus: null },
          { tool: 'stamp', name: 'tick', colour: 'garnet', width: 20, focus: null, look: tick, points: null },
          { tool: 'highlight', name: 'method', colour: 'amber', width: 11, focus: 'method' },
          { tool: 'highlight', name: 'well put', colour: 'moss', width: 11, focus: 'well put' },
          { tool: 'note', name: 'accuracy', colour: 'garnet', focus: 'accuracy' },
          { tool: 'note', name: 'wording', colour: 'lake', focus: 'wording' },
          { tool: 'swap', name: 'swap', colour: 'lake', focus: 'wording' },
          { tool: 'add', name: 'addition', colour: 'lake', focus: 'wording' },
          { tool: 'cut', name: 'cut', colour: 'lake', focus: 'wording' },
          { tool: 'text', name: 'page text', colour: 'garnet', width: 13, focus: null },
        ],
      },
      {
        id: newId(),
        name: 'numbers',
        pens: [
          { tool: 'ink', name: 'red pen', colour: 'garnet', width: 1.6, focus: null },
          { tool: 'stamp', name: 'right', colour: 'garnet', width: 20, focus: null, look: tick, points: 100 },
          {
            tool: 'stamp',
            name: 'half',
            colour: 'garnet',
            width: 20,
            focus: null,
            look: sign('half'),
            points: 50,
          },
          {
            tool: 'stamp',
            name: 'wrong',
            colour: 'garnet',
            width: 18,
            focus: null,
            look: sign('cross'),
            points: 0,
          },
          { tool: 'note', name: 'accuracy', colour: 'garnet', focus: 'accuracy' },
          { tool: 'ring', name: 'ring', colour: 'garnet', width: 1.6, focus: null },
          { tool: 'arrow', name: 'arrow', colour: 'lake', width: 1.6, focus: 'method' },
          { tool: 'box', name: 'box', colour: 'lake', width: 1.6, focus: 'method' },
          { tool: 'line', name: 'line', colour: 'garnet', width: 1.6, focus: null },
          { tool: 'text', name: 'page text', colour: 'garnet', width: 13, focus: null },
        ],
      },
    ],
  };
}
