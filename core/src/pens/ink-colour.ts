import * as z from 'zod';

/**
 * The teacher's inks, used for marks and for nothing else on the screen; graphite and straw are what students write and
 * highlight with, so that nobody's hand is taken for the other's.
 */
export const InkColour = z.enum(['garnet', 'lake', 'moss', 'amber', 'plum', 'graphite', 'straw']);
export type InkColour = z.infer<typeof InkColour>;

export const INK_HEX: Readonly<Record<InkColour, string>> = {
  garnet: '#b0253a',
  lake: '#1f63b5',
  moss: '#3f7a35',
  amber: '#e0a100',
  plum: '#7a3d86',
  graphite: '#33373d',
  straw: '#e8d66a',
};

/** What everybody calls the inks. */
export const INK_NAMES: Readonly<Record<InkColour, string>> = {
  garnet: 'red',
  lake: 'blue',
  moss: 'green',
  amber: 'yellow',
  plum: 'purple',
  graphite: 'grey',
  straw: 'pale yellow',
};

const STUDENT_COLOURS: readonly InkColour[] = ['graphite', 'straw'];

/** Whether a colour is one that students draw with. */
export const isStudentColour = (colour: InkColour): boolean => STUDENT_COLOURS.includes(colour);

/** What a mark is about. A focus is told by its sign and its name as well as by colour. */
export const FocusName = z.string().min(1).max(40);
export const FocusSign = z.enum(['disc', 'triangle', 'square', 'star', 'diamond']);
export type FocusSign = z.infer<typeof FocusSign>;

export const SIGN_OF: Readonly<Record<InkColour, FocusSign>> = {
  garnet: 'disc',
  amber: 'triangle',
  lake: 'square',
  moss: 'star',
  plum: 'diamond',
  graphite: 'disc',
  straw: 'disc',
};
