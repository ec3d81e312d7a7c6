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

const STUDENT_COLOURS: readonly InkColour[] = ['graphite', 'straw'];

/** Whether a colour is one that students draw with. */
export const isStudentColour = (colour: InkColour): boolean => STUDENT_COLOURS.includes(colour);

/** What a mark is about. A focus is told by its sign and its name as well as by colour. */
export const FocusName = z.string().min(1).max(40);
export type FocusSign = 'disc' | 'triangle' | 'square' | 'star' | 'diamond';

export const SIGN_OF: Readonly<Record<InkColour, FocusSign>> = {
  garnet: 'disc',
  amber: 'triangle',
  lake: 'square',
  moss: 'star',
  plum: 'diamond',
  graphite: 'disc',
  straw: 'disc',
};

/** A pen is a tool with all it needs to know: taking it is one move, and there is nothing else to set. */
export type Pen =
  | {
      readonly tool: 'ink';
      readonly name: string;
      readonly colour: InkColour;
      readonly width: number;
      readonly focus: string | null;
    }
  | {
      readonly tool: 'highlight';
      readonly name: string;
      readonly colour: InkColour;
      readonly width: number;
      readonly focus: string | null;
    }
  | {
      readonly tool: 'note';
      readonly name: string;
      readonly colour: InkColour;
      readonly focus: string | null;
    }
  | { readonly tool: 'eraser'; readonly name: string }
  | { readonly tool: 'hand'; readonly name: string };

/** The tray a teacher starts with; its place in the row is the key that takes it. */
export const STARTER_TRAY: readonly Pen[] = [
  { tool: 'ink', name: 'fine', colour: 'garnet', width: 1.6, focus: null },
  { tool: 'ink', name: 'broad', colour: 'lake', width: 3, focus: null },
  { tool: 'highlight', name: 'method', colour: 'amber', width: 11, focus: 'method' },
  { tool: 'highlight', name: 'well put', colour: 'moss', width: 11, focus: 'well put' },
  { tool: 'note', name: 'accuracy', colour: 'garnet', focus: 'accuracy' },
  { tool: 'note', name: 'wording', colour: 'lake', focus: 'wording' },
  { tool: 'eraser', name: 'rub out' },
  { tool: 'hand', name: 'hand' },
];

/** What a student writes with. Typing is the hand: fields are typed into, nothing is drawn. */
export const STUDENT_TRAY: readonly Pen[] = [
  { tool: 'hand', name: 'type' },
  { tool: 'ink', name: 'pencil', colour: 'graphite', width: 1.8, focus: null },
  { tool: 'highlight', name: 'straw', colour: 'straw', width: 11, focus: null },
  { tool: 'eraser', name: 'rub out' },
];
