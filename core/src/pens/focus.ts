import * as z from 'zod';
import { listOf } from '../versions/list.ts';
import { FocusName, FocusSign, InkColour, SIGN_OF } from './ink-colour.ts';

/** What marks are about: a name that its teacher gave, told by a colour and a sign. */
export const Focus = z.object({ name: FocusName, colour: InkColour, sign: FocusSign });
export type Focus = z.infer<typeof Focus>;

export const MOST_FOCUSES = 20;
/** A teacher's own focuses in their order; no two have one name. */
export const Focuses = listOf(Focus, MOST_FOCUSES).refine(
  (list) => new Set(list.map((f) => f.name)).size === list.length,
  'names that differ',
);
export type Focuses = z.infer<typeof Focuses>;

/** What a teacher starts with. */
export const STARTER_FOCUSES: readonly Focus[] = [
  { name: 'method', colour: 'amber', sign: 'triangle' },
  { name: 'accuracy', colour: 'garnet', sign: 'disc' },
  { name: 'wording', colour: 'lake', sign: 'square' },
  { name: 'well put', colour: 'moss', sign: 'star' },
];

/** The sign by which a mark is told: its own, or that of its ink. */
export const signOf = (mark: {
  readonly colour: InkColour;
  readonly sign?: FocusSign | undefined;
}): FocusSign => mark.sign ?? SIGN_OF[mark.colour];

/** A mark with the sign that its focus has among these; the colour it was made in tells the sign where the focus is none of them. */
export function withSignOf<M extends { readonly focus: string | null; readonly colour: InkColour }>(
  mark: M,
  focuses: readonly Focus[],
): M {
  const sign = focuses.find((f) => f.name === mark.focus)?.sign;
  return !sign || sign === signOf(mark) ? mark : { ...mark, sign };
}

/** One line of a legend: a focus as it is found on marks, and how many there are. */
export interface FocusCount {
  readonly name: string;
  readonly colour: InkColour;
  readonly sign: FocusSign;
  readonly count: number;
}

/** What marks are about, in the order of the focuses, others behind them by their names. Each is shown as most of its marks are. */
export function countFocuses(
  marks: readonly {
    readonly focus: string | null;
    readonly colour: InkColour;
    readonly sign?: FocusSign | undefined;
  }[],
  focuses: readonly Focus[] = [],
): FocusCount[] {
  const looks = new Map<string, Map<string, number>>();
  for (const mark of marks) {
    if (mark.focus === null) continue;
    const look = `${mark.colour} ${signOf(mark)}`;
    const of = looks.get(mark.focus) ?? new Map<string, number>();
    looks.set(mark.focus, of.set(look, (of.get(look) ?? 0) + 1));
  }
  const place = (name: string) => {
    const at = focuses.findIndex((f) => f.name === name);
    return at < 0 ? focuses.length : at;
  };
  return [...looks]
    .map(([name, of]) => {
      const [look] = [...of].reduce((a, b) => (b[1] > a[1] ? b : a));
      const [colour, sign] = look.split(' ') as [InkColour, FocusSign];
      return { name, colour, sign, count: [...of.values()].reduce((a, b) => a + b, 0) };
    })
    .sort((a, b) => place(a.name) - place(b.name) || (a.name < b.name ? -1 : 1));
}
